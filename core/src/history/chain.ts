import { say } from '../languages/index.ts';
/** A line of the ledger with its parts as PostgreSQL writes them as text: what its hash is taken of. Hashes are hex. */
export interface ChainedLine {
  readonly id: number;
  /** Microseconds since 1970-01-01 UTC. */
  readonly micros: string;
  readonly account: string;
  readonly through: string | null;
  readonly transaction: string;
  readonly place: string;
  readonly record: string;
  readonly version: string | null;
  readonly kind: string;
  readonly before: string | null;
  readonly after: string | null;
  /** What people said to the rules that asked, as JSON. */
  readonly reasons: string | null;
  /** Random bytes that the digest is taken with; null once the values were erased. */
  readonly salt: string | null;
  /** SHA-256 of the salt and the values; null in a line of an older version, whose hash covers the values themselves. */
  readonly digest: string | null;
  /** The hash of the record's line before this one; null for its first. */
  readonly previous: string | null;
  readonly hash: string;
}

export interface Seal {
  readonly number: string;
  readonly micros: string;
  readonly fromTransaction: string;
  readonly toTransaction: string;
  readonly lines: string;
  /** SHA-256 of the covered lines' hashes, in the order of their transactions and ids. */
  readonly root: string;
  readonly previous: string | null;
  /**
   * Microseconds since 1970: when the oldest transaction began that was running while the seal was made. `unknown`
   * where the database did not say; null in a seal of an older version, whose hash does not cover it.
   */
  readonly oldest: string | null;
  readonly hash: string;
}

const SEPARATOR = '\u001f';

const joined = (parts: readonly (string | null)[]): string => parts.map((part) => part ?? '').join(SEPARATOR);

/** The text whose SHA-256 (as UTF-8) is the digest of a line's values. */
export const digestText = (line: ChainedLine): string => joined([line.salt, line.before, line.after, line.reasons]);

/** The text whose SHA-256 (as UTF-8) is a line's hash: its parts, none of which may hold the separator. */
export const lineText = (line: ChainedLine): string =>
  joined([
    line.micros,
    line.account,
    line.through,
    line.transaction,
    line.place,
    line.previous,
    line.record,
    line.version,
    line.kind,
    ...(line.digest === null ? [line.before, line.after] : [line.digest]),
  ]);

/**
 * The text whose SHA-256 vouches for a line of an older version after its values were erased: all of it but them. The
 * erasure writes it into a line of its own.
 */
export const vouchedText = (line: ChainedLine): string =>
  joined([
    line.micros,
    line.account,
    line.through,
    line.transaction,
    line.previous,
    line.version,
    line.kind,
    line.hash,
  ]);

/** The text whose SHA-256 is a seal's hash. */
export const sealText = (seal: Seal): string =>
  joined([
    seal.previous,
    seal.number,
    seal.micros,
    seal.fromTransaction,
    seal.toTransaction,
    seal.lines,
    seal.root,
    ...(seal.oldest === null ? [] : [seal.oldest]),
  ]);

/** Why a line does not fit, in words; undefined when it does. */
export type Misfit = string | undefined;

/** Whether the values of a line were removed. A line of an older version always had values, unless it was an erasure. */
export const isErased = (line: ChainedLine): boolean =>
  line.digest === null ? line.before === null && line.after === null : line.salt === null;

/** Follows the lines of one record, in the order of their ids. */
export interface ChainFollower {
  /** Takes the next line; says why it does not fit. */
  next(line: ChainedLine): Misfit;
  /** Says, after the last line, what is missing. */
  end(): Misfit;
}

/**
 * Holds the lines of one record against one another. `sha256` gives hex. Lines are chained by their hashes, and those of
 * a table's record also count its versions from 1, so that a line that was altered, taken out, put in or moved is found
 * at the first line that does not fit. Values may be missing only where a later line says that the record was erased.
 */
export function chainFollower(sha256: (text: string) => string): ChainFollower {
  let last: { readonly hash: string; readonly version: number } | undefined;
  /** Lines without their values that no erasure accounts for yet; with what vouches for those of an older version. */
  const open = new Map<string, string | null>();

  const accountFor = (line: ChainedLine): void => {
    if (line.kind !== 'erase') return;
    const vouched = (line.version === null && line.after !== null ? JSON.parse(line.after) : {}) as Record<
      string,
      string
    >;
    for (const [id, vouching] of open) if (vouching === null || vouched[id] === vouching) open.delete(id);
  };

  const contentMisfit = (line: ChainedLine): Misfit => {
    if ([line.account, line.place, line.record].some((part) => part.includes(SEPARATOR)))
      return say('it holds a character that no line is written with');
    if (isErased(line)) {
      if (line.before !== null || line.after !== null || line.reasons !== null)
        return say('its values are there without what they were sealed with');
      open.set(String(line.id), line.digest === null ? sha256(vouchedText(line)) : null);
      if (line.digest === null) return undefined;
    } else if (line.digest !== null && sha256(digestText(line)) !== line.digest)
      return say('what it says is not what was written: its values do not fit their digest');
    return sha256(lineText(line)) === line.hash
      ? undefined
      : say('what it says is not what was written: its hash does not fit');
  };

  return {
    next(line) {
      const before = last;
      const version = line.version === null ? (before?.version ?? 0) : (before?.version ?? 0) + 1;
      last = { hash: line.hash, version };
      const wrong = contentMisfit(line);
      if (wrong !== undefined) return wrong;
      accountFor(line);
      if (line.previous !== (before?.hash ?? null))
        return before === undefined
          ? say('it follows a line that is not there any more')
          : say('it does not follow the line before it: one was taken out, put in or moved');
      if (line.version !== null && Number(line.version) !== version)
        return say('it is version {version} where version {expected} was expected', {
          version: line.version,
          expected: version,
        });
      return undefined;
    },
    end: () =>
      open.size === 0 ? undefined : say('values were removed from its lines, and no line says that it was erased'),
  };
}

/** Follows the seals in the order of their numbers, each with the lines that it covers as they are now. */
export function sealFollower(
  sha256: (text: string) => string,
): (seal: Seal, found: { readonly lines: number; readonly root: string }) => Misfit {
  let last: Seal | undefined;
  return (seal, found) => {
    const before = last;
    last = seal;
    if (sha256(sealText(seal)) !== seal.hash) return say('its hash does not fit: it was rewritten');
    if (seal.previous !== (before?.hash ?? null) || Number(seal.number) !== Number(before?.number ?? 0) + 1)
      return say('it does not follow the seal before it');
    if (seal.fromTransaction !== (before?.toTransaction ?? '0'))
      return say('it does not begin where the seal before it ends');
    if (found.lines !== Number(seal.lines))
      return say('it covers {lines} lines, and {there} are there', { lines: seal.lines, there: found.lines });
    return found.root === seal.root ? undefined : say('the lines that it covers are not the ones that were sealed');
  };
}
