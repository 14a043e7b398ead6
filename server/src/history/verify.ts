import { createHash } from 'node:crypto';
import type { LedgerVerdict } from '@fiche/core/api';
import { type ChainedLine, chainFollower, type Seal, sealFollower } from '@fiche/core/history';
import { relation } from '@fiche/core/queries';
import type { Database, Transaction } from '../database/index.ts';

const sha256 = (text: string): string => createHash('sha256').update(text, 'utf8').digest('hex');

const BATCH = 5_000;

const LINE = `id, (extract(epoch FROM at) * 1000000)::bigint::text AS micros, account, through::text AS through, transaction::text AS transaction,
  place, record, version::text AS version, kind, before::text AS before, after::text AS after,
  encode(previous, 'hex') AS previous, encode(hash, 'hex') AS hash`;

/**
 * Reads the whole ledger as one moment shows it and holds it against itself: every line against its hash and the line
 * before it, every seal against its lines and the seal before it, every record against its newest line. Stops at the
 * first that does not fit. `knownSeal`, the hash of a seal noted elsewhere, has to be among the seals: that finds even a
 * ledger that was rewritten from end to end.
 */
export function verifyLedger(app: Database, knownSeal?: string): Promise<LedgerVerdict> {
  return app.transaction(
    async (transaction) => {
      const lines = await followLines(transaction);
      if (lines.misfit) return { ...lines, seals: 0, unsealed: 0, newestSeal: null };
      const sealed = await followSeals(transaction, knownSeal);
      const counted = { records: lines.records, lines: lines.lines };
      if (sealed.misfit) return { ...counted, ...sealed, unsealed: 0 };
      const unsealed = lines.lines - sealed.covered;
      return { ...counted, ...sealed, unsealed, misfit: await followRecords(transaction) };
    },
    { isolationLevel: 'repeatable read', readOnly: true },
  );
}

async function followLines(transaction: Transaction) {
  const follow = chainFollower(sha256);
  let lines = 0;
  let records = 0;
  let last: ChainedLine | undefined;
  for (;;) {
    const { rows } = await transaction.raw<{ rows: ChainedLine[] }>(
      last
        ? `SELECT ${LINE} FROM ledger.line WHERE (place, record, id) > (?, ?, ?) ORDER BY place, record, id LIMIT ${BATCH}`
        : `SELECT ${LINE} FROM ledger.line ORDER BY place, record, id LIMIT ${BATCH}`,
      last ? [last.place, last.record, last.id] : [],
    );
    for (const line of rows) {
      const why = follow(line);
      if (line.record !== last?.record || line.place !== last.place) records++;
      lines++;
      last = line;
      if (why)
        return {
          lines,
          records,
          misfit: { what: why, line: line.id, seal: null, place: line.place, record: line.record },
        };
    }
    if (rows.length < BATCH) return { lines, records, misfit: null };
  }
}

async function followSeals(transaction: Transaction, knownSeal: string | undefined) {
  const follow = sealFollower(sha256);
  const { rows: seals } = await transaction.raw<{ rows: Seal[] }>(
    `SELECT number::text AS number, (extract(epoch FROM at) * 1000000)::bigint::text AS micros, from_transaction::text AS "fromTransaction",
       to_transaction::text AS "toTransaction", lines::text AS lines, encode(root, 'hex') AS root, encode(previous, 'hex') AS previous, encode(hash, 'hex') AS hash
     FROM ledger.seal ORDER BY number`,
  );
  const newestSeal = seals.at(-1)?.hash ?? null;
  let covered = 0;
  const misfit = (what: string, seal: string | null) => ({ what, line: null, seal, place: null, record: null });
  for (const seal of seals) {
    const found = await rootOf(transaction, seal);
    covered += found.lines;
    const why = follow(seal, found);
    if (why) return { seals: seals.length, covered, newestSeal, misfit: misfit(why, seal.number) };
  }
  if (knownSeal !== undefined && !seals.some((seal) => seal.hash === knownSeal.toLowerCase()))
    return {
      seals: seals.length,
      covered,
      newestSeal,
      misfit: misfit('the seal that was noted elsewhere is not among them: the ledger was rewritten', null),
    };
  return { seals: seals.length, covered, newestSeal, misfit: null };
}

async function rootOf(transaction: Transaction, seal: Seal): Promise<{ lines: number; root: string }> {
  const root = createHash('sha256');
  let lines = 0;
  let after: readonly [string, number] = [seal.fromTransaction, 0];
  for (;;) {
    const { rows } = await transaction.raw<{ rows: { id: number; transaction: number; hash: Buffer }[] }>(
      `SELECT id, transaction, hash FROM ledger.line
       WHERE transaction >= ?::bigint AND transaction < ?::bigint AND (transaction, id) > (?::bigint, ?::bigint)
       ORDER BY transaction, id LIMIT 100000`,
      [after[0], seal.toTransaction, after[0], after[1]],
    );
    for (const row of rows) root.update(row.hash);
    lines += rows.length;
    const last = rows.at(-1);
    if (!last || rows.length < 100_000) return { lines, root: root.digest('hex') };
    after = [String(last.transaction), last.id];
  }
}

/** The first record whose newest line is not there, or that is gone without a line that says so. */
async function followRecords(transaction: Transaction): Promise<LedgerVerdict['misfit']> {
  const { rows: tables } = await transaction.raw<{ rows: { id: string }[] }>(
    'SELECT id FROM fiche."table" ORDER BY id',
  );
  for (const { id } of tables) {
    const place = `data.${id}`;
    const { rows } = await transaction.raw<{ rows: { record: string; live: number | null; said: number | null }[] }>(
      `SELECT coalesce(r.id::text, l.record) AS record, r.version AS live, l.version AS said
       FROM (SELECT DISTINCT ON (record) record, version, kind FROM ledger.line WHERE place = ? ORDER BY record, id DESC) l
       FULL JOIN ${relation(id)} r ON r.id::text = l.record
       WHERE (r.id IS NULL AND l.kind <> 'erase') OR (r.id IS NOT NULL AND (l.version IS DISTINCT FROM r.version OR l.kind = 'erase'))
       ORDER BY 1 LIMIT 1`,
      [place],
    );
    const [row] = rows;
    if (row)
      return {
        what:
          row.live === null
            ? 'the record is gone, and no line says that it was erased'
            : `the record is at version ${row.live}, and its newest line is ${row.said === null ? 'not there' : `version ${row.said}`}`,
        line: null,
        seal: null,
        place,
        record: row.record,
      };
  }
  return null;
}

const MOST_UNSEALED = 10_000;

/** Seals what is over and not sealed yet, once it is 10,000 lines or the last seal is five minutes old. */
export const sealLedger = (app: Database, longest = '5 min'): Promise<unknown> =>
  app.raw('SELECT ledger.make_seal(?, ?::interval)', [MOST_UNSEALED, longest]);

/** Makes the partitions of the months ahead. */
export const makePartitions = (app: Database): Promise<unknown> =>
  app.raw("SELECT ledger.make_partitions(now()::date, (now() + interval '3 months')::date)");
