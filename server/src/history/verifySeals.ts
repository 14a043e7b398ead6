import { type Seal, sealFollower } from '@fiche/core/history';
import { say } from '@fiche/core/languages';
import type { Database, Transaction } from '../database/index.ts';
import { type Found, sha256 } from './found.ts';

/** Misfits of seals, and of lines that stand where they cannot have been written, that are told of each kind. */
const MOST_TOLD = 5;

const ofSeal = (what: string, seal: string | null): Found => ({ what, line: null, seal, place: null, record: null });

/** What the seals count: how many there are, and the lines of the window that they leave open. */
interface SealCounts {
  readonly seals: number;
  readonly unsealed: number;
  readonly unsealedSince: string | null;
  readonly newestSeal: string | null;
}

/** The lines that belong to one seal, or to none yet. */
interface SealedLines {
  readonly lines: number;
  /** The hash of their hashes in order. */
  readonly root: string;
  /** The moment of the oldest line, in microseconds. */
  readonly since: string;
  /** The moment of the oldest line that is not backdated. */
  readonly oldest: string | null;
}

const NO_LINES = sha256('');
const microsOf = (moment: string): string => `(extract(epoch FROM ${moment}) * 1000000)::bigint`;

/** All seals in the order of their numbers, with their parts as text. As the owner. */
export async function readSeals(owner: Database | Transaction): Promise<Seal[]> {
  const { rows } = await (owner as Transaction).raw<{ rows: Seal[] }>(
    `SELECT s.number::text AS number, ${microsOf('s.at')}::text AS micros, s.from_transaction::text AS "fromTransaction",
       s.to_transaction::text AS "toTransaction", s.lines::text AS lines, encode(s.root, 'hex') AS root, encode(s.previous, 'hex') AS previous, encode(s.hash, 'hex') AS hash,
       CASE WHEN s.oldest IS NOT NULL THEN ${microsOf('s.oldest')}::text WHEN s.records IS NOT NULL THEN 'unknown' END AS oldest
     FROM ledger.seal s ORDER BY s.number`,
  );
  return rows;
}

/** Holds every seal against its lines and the seal before it, and every line against the seals that stand before it. */
export async function followSeals(
  transaction: Transaction,
  knownSeal: string | undefined,
): Promise<{ counts: SealCounts; misfits: Found[] }> {
  const seals = await readSeals(transaction);
  const bySeal = await linesBySeal(transaction, seals);
  const misfits: Found[] = [];
  const follow = sealFollower(sha256);
  let oldest = 0n;
  for (const [at, seal] of seals.entries()) {
    const found = bySeal.get(at);
    const why = follow(seal, { lines: found?.lines ?? 0, root: found?.root ?? NO_LINES });
    if (why !== undefined && misfits.length < MOST_TOLD) misfits.push(await nameRecord(transaction, seal, why));
    if (found) misfits.push(...(await tooOld(transaction, seals, at, found, oldest)));
    if (seal.oldest !== null && seal.oldest !== 'unknown') oldest = BigInt(seal.oldest);
  }
  const open = bySeal.get(seals.length);
  if (open) misfits.push(...(await tooOld(transaction, seals, seals.length, open, oldest)));
  misfits.push(...(await neverHappened(transaction)));
  if (knownSeal !== undefined && !seals.some((seal) => seal.hash === knownSeal.toLowerCase()))
    misfits.push(ofSeal(say('the seal that was noted elsewhere is not among them: the ledger was rewritten'), null));
  return {
    counts: {
      seals: seals.length,
      unsealed: open?.lines ?? 0,
      unsealedSince: open ? new Date(Number(BigInt(open.since) / 1000n)).toISOString() : null,
      newestSeal: seals.at(-1)?.hash ?? null,
    },
    misfits,
  };
}

/** The lines up to the end of each seal that no seal before it covers, by the place of the seal; after the last: unsealed. */
async function linesBySeal(transaction: Transaction, seals: readonly Seal[]): Promise<Map<number, SealedLines>> {
  // Bounds that are not in order break the chain of the seals, which says so; here they only have to be searchable.
  const ends = seals.map((seal) => seal.toTransaction).sort((one, other) => Number(BigInt(one) - BigInt(other)));
  const nth = seals.length === 0 ? '0' : 'width_bucket(l.transaction, ?::bigint[])';
  const { rows } = await transaction.raw<{ rows: (SealedLines & { nth: number })[] }>(
    `SELECT nth, count(*)::integer AS lines, encode(sha256(string_agg(hash, ''::bytea ORDER BY transaction, id)), 'hex') AS root,
       ${microsOf('min(at)')}::text AS since, ${microsOf("min(at) FILTER (WHERE (through->>'backdated') IS DISTINCT FROM 'true')")}::text AS oldest
     FROM (SELECT ${nth} AS nth, l.* FROM ledger.line l) l GROUP BY nth`,
    seals.length === 0 ? [] : [`{${ends.join(',')}}`],
  );
  return new Map(rows.map((row) => [row.nth, row]));
}

/** The lines of a seal, or of none yet, that are older than the seal before it leaves room for. */
async function tooOld(
  transaction: Transaction,
  seals: readonly Seal[],
  at: number,
  found: SealedLines,
  oldest: bigint,
): Promise<Found[]> {
  if (found.oldest === null || BigInt(found.oldest) >= oldest) return [];
  return linesWhere(
    transaction,
    say('it is older than every transaction that was running when the seal before it was made'),
    `at < to_timestamp(0) + ?::bigint * interval '1 microsecond' AND (through->>'backdated') IS DISTINCT FROM 'true'
     AND transaction >= ?::bigint AND transaction < ?::bigint`,
    [String(oldest), seals[at - 1]?.toTransaction ?? '0', seals[at]?.toTransaction ?? '9223372036854775807'],
  );
}

/** Lines whose transaction cannot have been: no seal ever covers them. */
async function neverHappened(transaction: Transaction): Promise<Found[]> {
  const before = await linesWhere(
    transaction,
    say('no transaction has its number, so no seal covers it'),
    'transaction < 0',
    [],
  );
  const after = await linesWhere(
    transaction,
    say('its transaction has not happened yet: no seal will ever cover it'),
    'transaction >= pg_snapshot_xmax(pg_current_snapshot())::text::bigint AND transaction >= coalesce((SELECT max(to_transaction) FROM ledger.seal), 0)',
    [],
  );
  return [...before, ...after];
}

async function linesWhere(
  transaction: Transaction,
  what: string,
  condition: string,
  values: readonly string[],
): Promise<Found[]> {
  const { rows } = await transaction.raw<{ rows: { id: number; place: string; record: string }[] }>(
    `SELECT id, place, record FROM ledger.line WHERE ${condition} ORDER BY ledger.line.transaction, id LIMIT ${MOST_TOLD}`,
    [...values],
  );
  return rows.map(({ id, place, record }) => ({ what, line: id, seal: null, place, record }));
}

/** The misfit of a seal, with the first record whose lines it covered and that has none there now, or the other way round. */
async function nameRecord(transaction: Transaction, seal: Seal, why: string): Promise<Found> {
  const { rows } = await transaction.raw<{ rows: { name: string; there: boolean }[] }>(
    `SELECT coalesce(l.name, s.name) AS name, l.name IS NOT NULL AS there
     FROM (SELECT unnest(records) AS name FROM ledger.seal WHERE number = ?::bigint AND records IS NOT NULL) s
     FULL JOIN (SELECT DISTINCT place || '/' || record AS name FROM ledger.line WHERE transaction >= ?::bigint AND transaction < ?::bigint) l ON l.name = s.name
     WHERE (l.name IS NULL OR s.name IS NULL) AND EXISTS (SELECT FROM ledger.seal WHERE number = ?::bigint AND records IS NOT NULL) ORDER BY 1 LIMIT 1`,
    [seal.number, seal.fromTransaction, seal.toTransaction, seal.number],
  );
  const [found] = rows;
  if (!found) return ofSeal(why, seal.number);
  const cut = found.name.indexOf('/');
  return {
    what: `${why}: ${found.there ? say('a line of this record was put in') : say('the lines of this record were taken out')}`,
    line: null,
    seal: seal.number,
    place: found.name.slice(0, cut),
    record: found.name.slice(cut + 1),
  };
}
