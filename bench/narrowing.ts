import { prepareForm } from '@fiche/core/forms';
import { findChoices, readableOf } from '@fiche/server/choices/index';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { fillBerths, openBenchOffice, p95, type Ratio } from './office.ts';

const RECORDS = 1_000_000;
const PONTOONS = 20_000;
const ROUNDS = 400;

/** Narrowed choices out of a million records, against the bare SQL that a careful person would write. */
export async function narrowingBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  try {
    await fillBerths(office.databases, PONTOONS, RECORDS);
    const { tables, forms } = await loadDefinitions(office.databases.app);
    const live = forms.get('quay_check_in')?.live;
    if (!live) throw new Error('The form is not published');
    const form = prepareForm(live, tables);
    const berth = form.fields.get('berth');
    if (!berth) throw new Error('The form has no berth');
    const bare =
      'SELECT id, number FROM data.quay_berths WHERE pontoon = ? AND archived_at IS NULL ORDER BY number COLLATE fiche.natural, id LIMIT 51';
    const asked = { account: 'harbourmaster', now: '2026-08-17T09:00' };
    const times = { bare: [] as number[], ours: [] as number[] };
    for (let round = 0; round < ROUNDS; round++) {
      const pontoon = 1 + ((round * 7_919) % PONTOONS);
      const begun = performance.now();
      await office.databases.app.raw(bare, [pontoon]);
      const between = performance.now();
      const entry = await readableOf(office.databases.app, form.tables, form, { ...asked, values: { pontoon } }, berth);
      const { choices } = await findChoices(office.databases.app, form.tables, entry, berth, '', 50);
      times.ours.push(performance.now() - between);
      times.bare.push(between - begun);
      if (choices.length !== RECORDS / PONTOONS) throw new Error(`${choices.length} choices`);
    }
    const [ours, plain] = [p95(times.ours), p95(times.bare)];
    return [
      {
        what: 'narrowed choices of 1,000,000 records, p95',
        ratio: ours / plain,
        aim: '≤ 1.5',
        detail: `${ours.toFixed(2)} against ${plain.toFixed(2)} ms`,
      },
    ];
  } finally {
    await office.close();
  }
}
