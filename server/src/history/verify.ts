import type { LedgerVerdict } from '@fiche/core/api';
import { type ChainedLine, chainFollower, differingColumn, type Told, told } from '@fiche/core/history';
import { say } from '@fiche/core/languages';
import { quoted } from '@fiche/core/queries';
import type { Database, Transaction } from '../database/index.ts';
import { CAPTURED } from './captured.ts';
import { batchesOf, type Found, sha256 } from './found.ts';
import { checkpointMisfits } from './verifyCheckpoints.ts';
import { fileMisfits } from './verifyFiles.ts';
import { followSeals } from './verifySeals.ts';
import { structureMisfits } from './verifyStructure.ts';

/** Misfits that are told; a ledger with more is told by its first ones. */
const MOST_TOLD = 20;

interface Verification {
  /** The hash of a seal noted elsewhere, which has to be among the seals. */
  readonly knownSeal?: string;
  /** Told now and then how many lines were read, of how many. It throws to cancel. */
  readonly progress?: (done: number, total: number) => Promise<void>;
}

/**
 * Reads the whole ledger as one moment shows it, on one connection, in constant memory, and holds it against the
 * database: every line against its hash and the line before it, every captured row against what its lines add up to,
 * every seal against its lines and the seal before it, every file against its hash, every checkpoint against the lines that it holds, and the functions and triggers that
 * capture against those that the migrations made. As the owner.
 */
export function verifyLedger(
  owner: Database,
  { knownSeal, progress = async () => undefined }: Verification = {},
): Promise<LedgerVerdict> {
  return owner.transaction(
    async (transaction) => {
      await transaction.raw(
        "SET LOCAL statement_timeout = 0; SET LOCAL TimeZone = 'UTC'; SET LOCAL work_mem = '64MB'; SET LOCAL cursor_tuple_fraction = 1",
      );
      const [{ n: total }] = (await transaction.raw<{ rows: [{ n: number }] }>('SELECT count(*) AS n FROM ledger.line'))
        .rows;
      const misfits = await structureMisfits(transaction);
      const counted = { lines: 0, records: 0 };
      for (const place of await placesOf(transaction)) {
        if (misfits.length >= MOST_TOLD) break;
        await followPlace(transaction, place, counted, misfits, () => progress(counted.lines, total));
      }
      const sealed = await followSeals(transaction, knownSeal);
      misfits.push(...sealed.misfits, ...(await fileMisfits(transaction)));
      misfits.push(...(await checkpointMisfits(transaction, MOST_TOLD)));
      // A record that is named says more than the seal or the table that it is missed by.
      const named = [...misfits.filter((one) => one.record !== null), ...misfits.filter((one) => one.record === null)];
      return { ...counted, ...sealed.counts, misfits: named.slice(0, MOST_TOLD) };
    },
    { isolationLevel: 'repeatable read', readOnly: true },
  );
}

/** A place whose rows the ledger accounts for, and the SQL that reads them in the order of their keys. */
interface Place {
  readonly name: string;
  /** Undefined where there is no such table: then every one of its records has to be erased. */
  readonly rows?: string;
  readonly stamped: boolean;
  /** Columns that are being converted to another type, and the one that is being filled to take the place of each. */
  readonly alternatives: ReadonlyMap<string, string>;
}

async function placesOf(transaction: Transaction): Promise<Place[]> {
  const { rows: told } = await transaction.raw<{ rows: { place: string }[] }>(
    `WITH RECURSIVE places(place) AS (
       (SELECT place FROM ledger.line ORDER BY place LIMIT 1)
       UNION ALL SELECT (SELECT l.place FROM ledger.line l WHERE l.place > places.place ORDER BY l.place LIMIT 1) FROM places WHERE places.place IS NOT NULL)
     SELECT place FROM places WHERE place IS NOT NULL`,
  );
  const { rows: tables } = await transaction.raw<{
    rows: { name: string; converting: Record<string, string> | null }[];
  }>(
    `SELECT c.relname AS name, (SELECT json_object_agg(substr(col_description(c.oid, a.attnum), 10), a.attname) FROM pg_attribute a
       WHERE a.attrelid = c.oid AND a.attnum > 0 AND col_description(c.oid, a.attnum) LIKE 'converts %') AS converting
     FROM pg_class c JOIN fiche."table" t ON t.id = c.relname WHERE c.relnamespace = 'data'::regnamespace`,
  );
  const audit = '{id,version,created_at,created_by,changed_at,changed_by}';
  const micros = (column: string): string => `(date_part('epoch', ${column}) * 1000000)::bigint::text`;
  const known = new Map<string, Place>();
  for (const { name, converting } of tables)
    known.set(`data.${name}`, {
      name: `data.${name}`,
      rows: `SELECT r.id::text COLLATE "C" AS key, (to_jsonb(r) - '${audit}'::text[])::text AS entry, r.version::text AS version,
        ${micros('r.created_at')} AS created, r.created_by AS creator, ${micros('r.changed_at')} AS changed, r.changed_by AS changer FROM data.${quoted(name)} r ORDER BY 1`,
      stamped: true,
      alternatives: new Map(Object.entries(converting ?? {})),
    });
  for (const [name, { keys, unwritten, hashed = [], countsWith }] of Object.entries(CAPTURED))
    known.set(`fiche.${name}`, {
      name: `fiche.${name}`,
      rows: `SELECT ledger.key_of(to_jsonb(r), '${keys.join(',')}') COLLATE "C" AS key, ledger.captured(to_jsonb(r), '${unwritten.join(',')}', '${hashed.join(',')}')::text AS entry
        FROM fiche.${quoted(name)} r ${countsWith === undefined ? '' : `WHERE r.${countsWith} IS NOT NULL`} ORDER BY 1`,
      stamped: false,
      alternatives: new Map(),
    });
  const unknown = told.filter(({ place }) => !known.has(place));
  return [
    ...known.values(),
    ...unknown.map(({ place }) => ({ name: place, stamped: false, alternatives: new Map<string, string>() })),
  ];
}

interface Row {
  readonly key: string;
  readonly entry: string;
  readonly version?: string;
  readonly created?: string;
  readonly creator?: string;
  readonly changed?: string;
  readonly changer?: string;
}

/** The parts of a line as text, of `ledger.line`. */
export const LINE = `id, (date_part('epoch', at) * 1000000)::bigint::text AS micros, account, through::text AS through, transaction::text AS transaction,
  place, record, version::text AS version, kind, before::text AS before, after::text AS after, reasons::text AS reasons,
  encode(salt, 'hex') AS salt, encode(digest, 'hex') AS digest, encode(previous, 'hex') AS previous, encode(hash, 'hex') AS hash`;

/** Merges the lines of one place with its rows by their key, and holds each record against its lines. */
async function followPlace(
  transaction: Transaction,
  place: Place,
  counted: { lines: number; records: number },
  misfits: Found[],
  progress: () => Promise<void>,
): Promise<void> {
  const lines = batchesOf<ChainedLine>(
    transaction,
    'lines',
    `SELECT ${LINE} FROM ledger.line WHERE place = ? ORDER BY record, id`,
    [place.name],
  );
  const batches = place.rows === undefined ? undefined : batchesOf<Row>(transaction, 'entries', place.rows);
  let rows: Row[] = [];
  let taken = 0;
  /** The next row; most are there already and need no waiting. */
  const nextRow = (): Row | undefined | Promise<Row | undefined> => (taken < rows.length ? rows[taken++] : moreRows());
  const moreRows = async (): Promise<Row | undefined> => {
    [rows, taken] = [((await batches?.next())?.value as Row[] | undefined) ?? [], 1];
    return rows[0];
  };
  const at = (record: string, what: string, line: number | null = null): void => {
    if (misfits.length < MOST_TOLD) misfits.push({ what, line, seal: null, place: place.name, record });
  };
  let row = await nextRow();
  let record: string | undefined;
  let follower = chainFollower(sha256);
  let sum: Told | undefined;
  let wrong = false;

  /** Holds a record against its lines when all of these were read. A promise only where rows have to be waited for. */
  const close = (): void | Promise<void> => {
    if (record === undefined || sum === undefined) return;
    if (row !== undefined && row.key < record) return skipTo(record).then(close);
    const mine = row?.key === record ? row : undefined;
    const why = follower.end() ?? (wrong ? undefined : rowMisfit(place, mine, sum));
    if (why !== undefined) at(record, why);
    if (mine === undefined) return;
    const next = nextRow();
    if (!(next instanceof Promise)) row = next;
    else
      return next.then((found) => {
        row = found;
      });
  };
  const skipTo = async (next: string): Promise<void> => {
    for (; row !== undefined && row.key < next; row = await nextRow())
      at(row.key, say('it is there, and no line tells of it'));
  };
  for await (const batch of lines) {
    for (const line of batch) {
      if (line.record !== record) {
        const closing = close();
        if (closing) await closing;
        if (misfits.length >= MOST_TOLD) break;
        [record, follower, sum, wrong] = [line.record, chainFollower(sha256), undefined, false];
        counted.records++;
      }
      counted.lines++;
      const why = follower.next(line);
      if (why !== undefined && !wrong) at(line.record, why, line.id);
      wrong ||= why !== undefined;
      sum = toldOf(sum, line);
    }
    if (misfits.length >= MOST_TOLD) break;
    await progress();
  }
  await close();
  for (; row !== undefined && misfits.length < MOST_TOLD; row = await nextRow())
    at(row.key, say('it is there, and no line tells of it'));
  await batches?.return(undefined);
}

/** A line that was tampered with may hold no JSON: then it adds nothing, and is found by its hash. */
function toldOf(sum: Told | undefined, line: ChainedLine): Told {
  try {
    return told(sum, line);
  } catch {
    return { state: sum?.state, first: sum?.first ?? line, last: line };
  }
}

/** Why a row is not what its lines add up to. */
function rowMisfit(place: Place, row: Row | undefined, { state, first, last }: Told): string | undefined {
  if (!row) return state === undefined ? undefined : say('it is gone, and no line says that it was erased');
  if (state === undefined) return say('it is there, and its newest line says that it was erased');
  if (place.stamped) {
    if (row.version !== last.version)
      return say('it is at version {version}, and its newest line is version {newest}', {
        version: row.version ?? '',
        newest: last.version ?? '',
      });
    if (row.creator !== first.account || row.created !== first.micros)
      return say('it does not say who added it and when as its first line does');
    if (row.changer !== last.account || row.changed !== last.micros)
      return say('it does not say who changed it and when as its newest line does');
  }
  const column = differingColumn(state, JSON.parse(row.entry) as Record<string, unknown>, place.alternatives);
  return column === undefined ? undefined : say('its {column} is not what its lines say', { column });
}

const MOST_UNSEALED = 10_000;

/** Seals what is over and not sealed yet, once it is 10,000 lines or the last seal is five minutes old. */
export const sealLedger = (app: Database, longest = '5 min'): Promise<unknown> =>
  app.raw('SELECT ledger.make_seal(?, ?::interval)', [MOST_UNSEALED, longest]);

/** Makes the partitions of the months ahead. */
export const makePartitions = (app: Database): Promise<unknown> =>
  app.raw("SELECT ledger.make_partitions(now()::date, (now() + interval '3 months')::date)");
