import { newFieldSchema } from '@fiche/core/tables';
import { plainListing } from '@fiche/core/views';
import { asActor, type Database } from '@fiche/server/database/index';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { listPast, makeCheckpoints } from '@fiche/server/past/index';
import { addField, createTable } from '@fiche/server/tables/index';
import { listRows } from '@fiche/server/views/index';
import { openBenchOffice, type Ratio } from './office.ts';

const RECORDS = 100_000;
/** Lines of each record: the one that adds it, and its changes, about a quarter of a year apart. */
const LINES = 10;
const QUARTER = 91 * 86_400_000;
/** The changes of each quarter come in so many parts, spread over it. */
const PARTS = 10;

/** A table of 100,000 records with ten lines each, as it stood: two years back, in the middle of its history, and a day ago. */
export async function pastBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  const { app, owner } = office.databases;
  try {
    const began = Date.now() - LINES * QUARTER;
    const moment = (n: number): string => new Date(began + n * QUARTER).toISOString();
    await owner.raw('SELECT ledger.make_partitions(?::date, now()::date)', [moment(0).slice(0, 10)]);
    const by = (n: number) =>
      ({ name: 'harbourmaster', through: { kind: 'seed', label: 'bench' }, at: moment(n) }) as const;
    const write = (n: number, sql: string) => asActor(owner, by(n), (transaction) => transaction.raw(sql));
    await asActor(owner, by(0), async (transaction) => {
      const visits = await createTable(transaction, 'quay', 'Visits', '');
      for (const [label, type] of [
        ['Registration', 'text'],
        ['Length', 'decimal'],
        ['Arrival', 'dateTime'],
        ['Departure', 'dateTime'],
        ['Note', 'text'],
      ])
        await addField(transaction, visits.id, newFieldSchema.parse({ label, type }));
    });
    await write(
      0,
      `INSERT INTO data.quay_visits (registration, length, arrival, departure, note)
       SELECT 'GS-' || n, 5 + n % 30, '2026-08-01 12:00', '2026-08-09 10:00', 'visit ' || n FROM generate_series(1, ${RECORDS}) n`,
    );
    for (let n = 1; n < LINES; n++)
      for (let part = 0; part < PARTS; part++)
        await write(
          n + part / PARTS,
          `UPDATE data.quay_visits SET length = 5 + (id + ${n}) % 30, departure = departure + interval '1 day' WHERE id % ${PARTS} = ${part}`,
        );
    await owner.raw('VACUUM ANALYZE data.quay_visits');
    await owner.raw('ANALYZE ledger.line');
    const making = performance.now();
    await makeCheckpoints(owner);
    const made = performance.now() - making;
    const definitions = await loadDefinitions(app);
    const table = definitions.tables.get('quay_visits');
    if (!table) throw new Error('There are no visits');
    const reader = { asking: { account: 'harbourmaster', now: '2026-08-17T09:00' } };
    const listing = plainListing(table);
    const ratios: Ratio[] = await sizeOf(owner, made);
    // Between two checkpoints, as far from the one before as it gets.
    for (const [what, at] of [
      ['two years back', moment(2.45)],
      ['in the middle of its history', moment(LINES / 2 + 0.45)],
      ['a day ago', new Date(Date.now() - 86_400_000).toISOString()],
    ] as const) {
      const time = async (work: () => Promise<unknown>): Promise<number> => {
        const start = performance.now();
        await work();
        return performance.now() - start;
      };
      const rowsAt = async (more: object, how = {}) => {
        const { tables, ready: counted } = await listPast({ app, owner }, definitions, table.id, at, how);
        return listRows(
          app,
          tables,
          table,
          { search: '', archived: 'no', listing, limit: 100, counted, ...more },
          reader,
        );
      };
      const sorted = { listing: { ...listing, sort: [{ path: 'length', direction: 'up' as const }] } };
      const early = await time(() => rowsAt({}, { early: true }));
      const first = await time(() => rowsAt(sorted));
      const page = await time(() => rowsAt({ at: 50_000 }));
      ratios.push(
        {
          what: `100,000 records as of ${what}: the first page`,
          ratio: early / 300,
          aim: '≤ 1',
          detail: `${early.toFixed(0)} of 300 ms, the first time that somebody looks`,
        },
        {
          what: `100,000 records as of ${what}: whole, sorted and counted`,
          ratio: first / 2_000,
          aim: '≤ 1',
          detail: `${first.toFixed(0)} of 2,000 ms, the first time that somebody looks`,
        },
        {
          what: 'the same: a page in the middle, from then on',
          ratio: page / 300,
          aim: '≤ 1',
          detail: `${page.toFixed(0)} of 300 ms`,
        },
      );
    }
    return ratios;
  } finally {
    await office.close();
  }
}

/** What checkpoints take of the disk, against the lines that they hold. */
async function sizeOf(owner: Database, made: number): Promise<Ratio[]> {
  const { rows } = await owner.raw<{ rows: [{ kept: string; lines: string; n: string }] }>(
    `SELECT pg_total_relation_size('ledger.checkpoint_record') AS kept, (SELECT count(*) FROM ledger.checkpoint) AS n,
       (SELECT sum(pg_total_relation_size(inhrelid)) FROM pg_inherits WHERE inhparent = 'ledger.line'::regclass) AS lines`,
  );
  const [{ kept, lines, n }] = rows;
  const [size, of] = [Number(kept), Number(lines)];
  return [
    {
      what: 'checkpoints against the lines of their ledger, in bytes',
      ratio: size / of,
      aim: '≤ 1',
      detail: `${n} of them, ${(size / 1e6).toFixed(0)} of ${(of / 1e6).toFixed(0)} MB, made in ${(made / 1000).toFixed(1)} s`,
    },
  ];
}
