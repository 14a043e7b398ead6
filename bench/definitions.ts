import { newFieldSchema } from '@fiche/core/tables';
import { asActor } from '@fiche/server/database/index';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { addField, addFields, createTable } from '@fiche/server/tables/index';
import { openBenchOffice, p95, type Ratio } from './office.ts';

const TABLES = 200;
const FIELDS = 50;
const ROUNDS = 20;
const AIM_MS = { adding: 100, next: 20 };

/** Adding a field to one of 200 tables with 10,000 fields, and what reading the definitions again then takes. */
export async function definitionsBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  try {
    const { owner, app } = office.databases;
    const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' } } as const;
    for (let n = 0; n < TABLES; n++)
      await asActor(owner, actor, async (transaction) => {
        const table = await createTable(transaction, 'quay', `Gear ${n}`, '');
        const fields = Array.from({ length: FIELDS }, (_one, at) => ({
          ...newFieldSchema.parse({ label: `Part ${at}`, type: at % 3 === 0 ? 'wholeNumber' : 'text' }),
          id: `part_${at}`,
        }));
        await addFields(transaction, table.id, fields, { held: true });
      });
    await owner.raw('VACUUM ANALYZE fiche.field');
    await loadDefinitions(app);
    const [adding, next]: number[][] = [[], []];
    for (let round = 0; round < ROUNDS; round++) {
      const begun = performance.now();
      await asActor(owner, actor, (transaction) =>
        addField(transaction, `quay_gear_${round * 7}`, newFieldSchema.parse({ label: `More ${round}`, type: 'text' })),
      );
      adding?.push(performance.now() - begun);
      const from = performance.now();
      await loadDefinitions(app);
      next?.push(performance.now() - from);
    }
    const of = (what: string, times: readonly number[], aim: number): Ratio => ({
      what: `${what} among ${TABLES} tables and ${TABLES * FIELDS} fields, p95, against ${aim} ms`,
      ratio: p95(times) / aim,
      aim: '≤ 1',
      detail: `${p95(times).toFixed(1)} ms`,
    });
    return [of('adding a field', adding ?? [], AIM_MS.adding), of('definitions after it', next ?? [], AIM_MS.next)];
  } finally {
    await office.close();
  }
}
