import { asActor, type Transaction } from '@fiche/server/database/index';
import { openBenchOffice, type Ratio } from './office.ts';

const ROWS = 100_000;
const SINGLES = 1_500;
const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' } } as const;

const INSERT = `INSERT INTO data.quay_stays (pontoon, registration, length, arrival, departure)
  SELECT NULL, 'GS-' || n, n % 200 / 10.0, '2026-01-01'::timestamp + n * interval '1 minute', '2026-01-03'::timestamp + n * interval '1 minute' FROM generate_series(1, ${ROWS}) n`;
const UPDATE = `UPDATE data.quay_stays SET length = length + 1, registration = registration || 'x'`;

/** What capture costs: the same writes to the same table, stamped alike, with its capture triggers and without. */
export async function captureBench(): Promise<Ratio[]> {
  const times: Record<string, [number, number]> = {};
  const measure = async (captured: boolean): Promise<void> => {
    const office = await openBenchOffice();
    const { owner } = office.databases;
    try {
      if (!captured)
        for (const trigger of ['added', 'changed'])
          await owner.raw(`ALTER TABLE data.quay_stays DISABLE TRIGGER capture_${trigger}`);
      const time = async (what: string, work: (transaction: Transaction) => Promise<unknown>): Promise<void> => {
        const begun = performance.now();
        await asActor(owner, actor, work);
        times[what] = [...(times[what] ?? [0, 0])] as [number, number];
        (times[what] as number[])[captured ? 1 : 0] = performance.now() - begun;
      };
      await time('100,000 rows added in one statement', (transaction) => transaction.raw(INSERT));
      await time('100,000 rows changed in one statement', (transaction) => transaction.raw(UPDATE));
      await owner.raw('ANALYZE');
      await time(`a record added, ${SINGLES} one by one`, async (transaction) => {
        for (let n = 0; n < SINGLES; n++)
          await transaction.raw(`INSERT INTO data.quay_stays (registration) VALUES ('single')`);
      });
      await time(`a record changed, ${SINGLES} one by one`, async (transaction) => {
        for (let n = 1; n <= SINGLES; n++)
          await transaction.raw('UPDATE data.quay_stays SET length = 7 WHERE id = ?', [n]);
      });
    } finally {
      await office.close();
    }
  };
  await measure(false);
  await measure(true);
  return Object.entries(times).map(([what, [plain, captured]]) => ({
    what: `capture: ${what}`,
    ratio: captured / plain,
    aim: 'well below 12',
    detail: `${captured.toFixed(0)} against ${plain.toFixed(0)} ms`,
  }));
}
