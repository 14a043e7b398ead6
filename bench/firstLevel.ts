import { prepareForm } from '@fiche/core/forms';
import { newFieldSchema } from '@fiche/core/tables';
import { findChoices, readableOf } from '@fiche/server/choices/index';
import { asActor } from '@fiche/server/database/index';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { createForm, publishForm } from '@fiche/server/forms/index';
import { addField, createList, tendIndexes } from '@fiche/server/tables/index';
import { openBenchOffice, p95, type Ratio } from './office.ts';

const RECORDS = 1_000_000;
const ROUNDS = 200;
const AIM_MS = 5;

/** The first choices of a level that nothing narrows yet: the distinct words among a million combinations. */
export async function firstLevelBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  try {
    const { owner, app } = office.databases;
    await asActor(owner, { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' } }, async (transaction) => {
      const list = await createList(transaction, 'quay', 'Parts', ['System', 'Part', 'Defect']);
      for (const { id, label } of list.fields)
        await addField(
          transaction,
          'quay_stays',
          newFieldSchema.parse({ label, type: 'choice', settings: { level: { table: list.id, column: id } } }),
        );
      const form = await createForm(transaction, 'quay', 'quay_stays', 'Faults');
      await publishForm(transaction, form.id, form.draftRevision);
    });
    await owner.raw(
      `ALTER TABLE data.quay_parts DISABLE TRIGGER USER;
       INSERT INTO data.quay_parts (system, part, defect, created_at, created_by, changed_at, changed_by, version)
       SELECT 'System ' || n % 40, 'Part ' || n % 2000, 'Defect ' || n, now(), 'bench', now(), 'bench', 1 FROM generate_series(1, ${RECORDS}) n;
       ALTER TABLE data.quay_parts ENABLE TRIGGER USER;`,
    );
    await owner.raw('ANALYZE data.quay_parts');
    await tendIndexes(owner);
    const { tables, forms } = await loadDefinitions(app);
    const live = [...forms.values()].find((form) => form.draft.label === 'Faults')?.live;
    if (!live) throw new Error('The form is not published');
    const form = prepareForm(live, tables);
    const asked = { account: 'harbourmaster', now: '2026-08-17T09:00' };
    const time = async (level: string, values: Record<string, string>, expected: number): Promise<number> => {
      const dropdown = form.fields.get(level);
      if (!dropdown) throw new Error(`The form has no ${level}`);
      const times: number[] = [];
      for (let round = 0; round < ROUNDS; round++) {
        const begun = performance.now();
        const entry = await readableOf(app, form, { ...asked, values }, dropdown);
        const { choices } = await findChoices(app, entry, dropdown, '', 50);
        times.push(performance.now() - begun);
        if (choices.length !== expected) throw new Error(`${choices.length} choices of ${level}`);
      }
      return p95(times);
    };
    const [first, second] = [await time('system', {}, 40), await time('part', { system: 'System 7' }, 50)];
    const { rows } = await app.raw<{ rows: { system: string }[] }>('SELECT DISTINCT system FROM data.quay_parts');
    const begun = performance.now();
    await app.raw('SELECT DISTINCT system FROM data.quay_parts');
    const scan = performance.now() - begun;
    return [
      {
        what: 'first choices of a level among 1,000,000, p95, against 5 ms',
        ratio: first / AIM_MS,
        aim: '≤ 1',
        detail: `${first.toFixed(2)} ms for ${rows.length} words, ${second.toFixed(2)} ms for 50 of the level below; a scan takes ${scan.toFixed(0)} ms`,
      },
    ];
  } finally {
    await office.close();
  }
}
