import { createHash } from 'node:crypto';
import { type Seal, sealFollower } from '@fiche/core/history';
import type { Transaction } from '../database/index.ts';
import { type Found, sha256, streamOf } from './found.ts';

interface SealedLine {
  readonly id: number;
  readonly transaction: string;
  readonly micros: string;
  readonly place: string;
  readonly record: string;
  readonly backdated: boolean;
  readonly hash: string;
}

const misfit = (what: string, seal: string | null, line?: SealedLine): Found => ({
  what,
  line: line?.id ?? null,
  seal,
  place: line?.place ?? null,
  record: line?.record ?? null,
});

/** What the seals count: how many there are, and the lines of the window that they leave open. */
interface SealCounts {
  readonly seals: number;
  readonly unsealed: number;
  readonly unsealedSince: string | null;
  readonly newestSeal: string | null;
}

/** Holds every seal against its lines and the seal before it, and every line against the seals that stand before it. */
export async function followSeals(
  transaction: Transaction,
  knownSeal: string | undefined,
): Promise<{ counts: SealCounts; misfits: Found[] }> {
  const { rows: seals } = await transaction.raw<{ rows: Seal[] }>(
    `SELECT s.number::text AS number, (extract(epoch FROM s.at) * 1000000)::bigint::text AS micros, s.from_transaction::text AS "fromTransaction",
       s.to_transaction::text AS "toTransaction", s.lines::text AS lines, encode(s.root, 'hex') AS root, encode(s.previous, 'hex') AS previous, encode(s.hash, 'hex') AS hash,
       CASE WHEN s.oldest IS NOT NULL THEN (extract(epoch FROM s.oldest) * 1000000)::bigint::text WHEN s.records IS NOT NULL THEN 'unknown' END AS oldest
     FROM ledger.seal s ORDER BY s.number`,
  );
  const { rows: now } = await transaction.raw<{ rows: { next: string }[] }>(
    'SELECT pg_snapshot_xmax(pg_current_snapshot())::text AS next',
  );
  const next = BigInt(now[0]?.next ?? 0);
  const misfits: Found[] = [];
  const follow = sealFollower(sha256);
  let at = 0;
  let [root, lines] = [createHash('sha256'), 0];
  let unsealed = { lines: 0, since: undefined as bigint | undefined };
  /** No line beyond the seals passed so far may be older. */
  let oldest = 0n;

  const close = async (): Promise<void> => {
    const seal = seals[at++] as Seal;
    const why = follow(seal, { lines, root: root.digest('hex') });
    if (why !== undefined && misfits.length < 5) misfits.push(await nameRecord(transaction, seal, why));
    if (seal.oldest !== null && seal.oldest !== 'unknown') oldest = BigInt(seal.oldest);
    [root, lines] = [createHash('sha256'), 0];
  };
  const stream = streamOf<SealedLine>(
    transaction,
    'sealed',
    `SELECT id, transaction::text AS transaction, (date_part('epoch', at) * 1000000)::bigint::text AS micros, place, record,
       coalesce(through->>'backdated' = 'true', false) AS backdated, encode(hash, 'hex') AS hash FROM ledger.line ORDER BY ledger.line.transaction, id`,
  );
  for await (const line of stream) {
    const number = BigInt(line.transaction);
    while (at < seals.length && number >= BigInt(seals[at]?.toTransaction ?? 0)) await close();
    const wrong = lineMisfit(line, number, { oldest, next, sealed: at < seals.length });
    if (wrong !== undefined && misfits.length < 5) misfits.push(misfit(wrong, null, line));
    if (at < seals.length) {
      root.update(Buffer.from(line.hash, 'hex'));
      lines++;
    } else {
      const micros = BigInt(line.micros);
      unsealed = {
        lines: unsealed.lines + 1,
        since: unsealed.since !== undefined && unsealed.since < micros ? unsealed.since : micros,
      };
    }
  }
  while (at < seals.length) await close();
  if (knownSeal !== undefined && !seals.some((seal) => seal.hash === knownSeal.toLowerCase()))
    misfits.push(misfit('the seal that was noted elsewhere is not among them: the ledger was rewritten', null));
  return {
    counts: {
      seals: seals.length,
      unsealed: unsealed.lines,
      unsealedSince: unsealed.since === undefined ? null : new Date(Number(unsealed.since / 1000n)).toISOString(),
      newestSeal: seals.at(-1)?.hash ?? null,
    },
    misfits,
  };
}

/** Why a line cannot have been written where it stands. */
function lineMisfit(
  line: SealedLine,
  transaction: bigint,
  { oldest, next, sealed }: { oldest: bigint; next: bigint; sealed: boolean },
): string | undefined {
  if (transaction < 0n) return 'no transaction has its number, so no seal covers it';
  if (!sealed && transaction >= next) return 'its transaction has not happened yet: no seal will ever cover it';
  if (BigInt(line.micros) < oldest && !line.backdated)
    return 'it is older than every transaction that was running when the seal before it was made';
  return undefined;
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
  if (!found) return misfit(why, seal.number);
  const cut = found.name.indexOf('/');
  return {
    what: `${why}: ${found.there ? 'a line of this record was put in' : 'the lines of this record were taken out'}`,
    line: null,
    seal: seal.number,
    place: found.name.slice(0, cut),
    record: found.name.slice(cut + 1),
  };
}
