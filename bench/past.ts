import { plainListing } from '@fiche/core/views';
import { asActor } from '@fiche/server/database/index';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { pastOf } from '@fiche/server/past/index';
import { listRows } from '@fiche/server/views/index';
import { openBenchOffice, type Ratio } from './office.ts';

const RECORDS = 100_000;
/** Lines of each record: the one that adds it, and its changes, about a quarter of a year apart. */
const LINES = 10;
const QUARTER = 91 * 86_400_000;

/** A table of 100,000 records with ten lines each, as it stood: two years back, in the middle of its history, and a day ago. */
export async function pastBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  const { app, owner } = office.databases;
  try {
    const began = Date.now() - LINES * QUARTER;
    const moment = (n: number): string => new Date(began + n * QUARTER).toISOString();
    await owner.raw('SELECT ledger.make_partitions(?::date, now()::date)', [moment(0).slice(0, 10)]);
    const write = (n: number, sql: string) =>
      asActor(
        owner,
        { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' }, at: moment(n) },
        (transaction) => transaction.raw(sql),
      );
    await write(
      0,
      `INSERT INTO data.quay_stays (registration, length, arrival, departure)
       SELECT 'GS-' || n, 5 + n % 30, '2026-08-01 12:00', '2026-08-09 10:00' FROM generate_series(1, ${RECORDS}) n`,
    );
    for (let n = 1; n < LINES; n++)
      await write(
        n,
        `UPDATE data.quay_stays SET length = 5 + (id + ${n}) % 30, departure = departure + interval '1 day'`,
      );
    await owner.raw('VACUUM ANALYZE data.quay_stays');
    await owner.raw('ANALYZE ledger.line');
    const definitions = await loadDefinitions(app);
    const table = definitions.tables.get('quay_stays');
    if (!table) throw new Error('There are no stays');
    // The definitions of the bench are of today: what they were then is not what is measured.
    const reader = { asking: { account: 'harbourmaster', now: '2026-08-17T09:00' } };
    const listing = plainListing(table);
    const ratios: Ratio[] = [];
    for (const [what, at] of [
      ['two years back', moment(1.5)],
      ['in the middle of its history', moment(LINES / 2)],
      ['a day ago', new Date(Date.now() - 86_400_000).toISOString()],
    ] as const) {
      const past = await pastOf(app, definitions, at);
      const time = async (work: () => Promise<unknown>): Promise<number> => {
        const start = performance.now();
        await work();
        return performance.now() - start;
      };
      const rows = { search: '', archived: 'no', listing, limit: 100 } as const;
      const page = await time(() => listRows(app, past.tables, table, { ...rows, at: 100 }, reader));
      const whole = await time(() =>
        listRows(
          app,
          past.tables,
          table,
          { ...rows, listing: { ...listing, sort: [{ path: 'length', direction: 'up' }] } },
          reader,
        ),
      );
      ratios.push(
        {
          what: `100,000 records as of ${what}: a page`,
          ratio: page / 1_000,
          aim: '≤ 0.3 s',
          detail: `${page.toFixed(0)} ms`,
        },
        {
          what: 'the same, whole: counted and sorted by a column',
          ratio: whole / 1_000,
          aim: '≤ 2 s',
          detail: `${whole.toFixed(0)} ms`,
        },
      );
    }
    return ratios;
  } finally {
    await office.close();
  }
}
