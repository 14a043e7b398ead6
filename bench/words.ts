import { prepareForm } from '@fiche/core/forms';
import { newFieldSchema } from '@fiche/core/tables';
import { findChoices, readableOf } from '@fiche/server/choices/index';
import { asActor } from '@fiche/server/database/index';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { createForm, publishForm } from '@fiche/server/forms/index';
import { addField, createList, prepareIndexes } from '@fiche/server/tables/index';
import { openBenchOffice, p95, type Ratio } from './office.ts';

const RECORDS = 1_000_000;
const LEVELS = ['system', 'part', 'kind', 'defect', 'remedy'] as const;
const ROUNDS = 6;
const AIM_MS = 20;
const LIMIT = 50;

/** A combination of each record, from its number: 40 systems, 700 parts, 20,000 kinds, 200,000 defects, 1,000,000 remedies. */
const WORDS_SQL = `'System ' || n % 40, 'Part ' || n % 700, 'Kind ' || n % 20000, 'Defect ' || n % 200000,
  'Remedy ' || substr(md5(n::text), 1, 6) || ' of ' || n`;

/** What is typed: nothing, how words begin, what few hold, what many hold, what none holds. */
const TYPED = ['', 'd', 'ki', 'part 6', 'remedy a', '99', '4999', 'f ab', 'rem', 'abc', 'zzzz'];

/** The words of each level among a million combinations, whatever levels above it are blank, and whatever is typed. */
export async function wordsBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  try {
    const { owner, app } = office.databases;
    const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' } } as const;
    const draft = await asActor(owner, actor, async (transaction) => {
      const list = await createList(transaction, 'quay', 'Parts', ['System', 'Part', 'Kind', 'Defect', 'Remedy']);
      for (const { id, label } of list.fields)
        await addField(
          transaction,
          'quay_stays',
          newFieldSchema.parse({ label, type: 'choice', settings: { level: { table: list.id, column: id } } }),
        );
      return createForm(transaction, 'quay', 'quay_stays', 'Faults');
    });
    await owner.raw(
      `ALTER TABLE data.quay_parts DISABLE TRIGGER USER;
       INSERT INTO data.quay_parts (${LEVELS.join(', ')}, created_at, created_by, changed_at, changed_by, version)
       SELECT ${WORDS_SQL}, now(), 'bench', now(), 'bench', 1 FROM generate_series(1, ${RECORDS}) n;
       ALTER TABLE data.quay_parts ENABLE TRIGGER USER;`,
    );
    await owner.raw('VACUUM ANALYZE data.quay_parts');
    const begun = performance.now();
    await prepareIndexes(owner, draft.id);
    const prepared = (performance.now() - begun) / 1_000;
    await asActor(owner, actor, (transaction) => publishForm(transaction, draft.id, draft.draftRevision));
    const { tables, forms } = await loadDefinitions(app);
    const live = forms.get(draft.id)?.live;
    if (!live) throw new Error('The form is not published');
    const form = prepareForm(live, tables);
    const { rows } = await app.raw<{ rows: Record<string, string>[] }>(
      `SELECT ${LEVELS.join(', ')} FROM data.quay_parts WHERE id % 99991 = 7 LIMIT ${ROUNDS}`,
    );
    const times = { order: [] as number[], typed: [] as number[] };
    let [worst, slowest] = ['', 0];
    for (const [depth, level] of LEVELS.entries())
      for (let chosen = 0; chosen < 1 << depth; chosen++)
        for (const search of TYPED)
          for (const row of rows) {
            const values = Object.fromEntries(
              LEVELS.slice(0, depth).flatMap((one, n) => (chosen & (1 << n) ? [[one, row[one] ?? '']] : [])),
            );
            const dropdown = form.fields.get(level);
            if (!dropdown) throw new Error(`The form has no ${level}`);
            const from = performance.now();
            const asked = { account: 'harbourmaster', now: '2026-08-17T09:00', values };
            await findChoices(
              app,
              form.tables,
              await readableOf(app, form.tables, form, asked, dropdown),
              dropdown,
              search,
              LIMIT,
            );
            const took = performance.now() - from;
            times[search.length < 3 ? 'order' : 'typed'].push(took);
            if (took > slowest) [worst, slowest] = [`${level} below ${Object.keys(values)} by “${search}”`, took];
          }
    const of = (what: string, found: readonly number[], more: string): Ratio => ({
      what: `${what} of 1,000,000 combinations, p95, against ${AIM_MS} ms`,
      ratio: p95(found) / AIM_MS,
      aim: '≤ 1',
      detail: `${p95(found).toFixed(1)} ms over ${found.length} questions, every level under every selection of parents; ${more}`,
    });
    return [
      of('words by their order', times.order, `indexes made in ${prepared.toFixed(0)} s`),
      of('words that hold three letters', times.typed, `slowest ${slowest.toFixed(0)} ms, ${worst}`),
    ];
  } finally {
    await office.close();
  }
}
