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
  readonly hash: string;
}

const SEPARATOR = '\u001f';

/** The text whose SHA-256 (as UTF-8) is a line's hash: its parts, none of which may hold the separator. */
export const lineText = (line: ChainedLine): string =>
  [
    line.micros,
    line.account,
    line.through,
    line.transaction,
    line.place,
    line.previous,
    line.record,
    line.version,
    line.kind,
    line.before,
    line.after,
  ]
    .map((part) => part ?? '')
    .join(SEPARATOR);

/** The text whose SHA-256 is a seal's hash. */
export const sealText = (seal: Seal): string =>
  [seal.previous, seal.number, seal.micros, seal.fromTransaction, seal.toTransaction, seal.lines, seal.root]
    .map((part) => part ?? '')
    .join(SEPARATOR);

/** Why a line does not fit, in words; undefined when it does. */
export type Misfit = string | undefined;

/**
 * Follows the lines of the ledger, record by record and within a record in the order of their ids. `sha256` gives hex.
 * A record's lines are chained by their hashes, and those of a table's records also count its versions from 1, so that a
 * line that was altered, taken out, put in or moved is found at the first line that does not fit.
 */
export function chainFollower(sha256: (text: string) => string): (line: ChainedLine) => Misfit {
  let last: { key: string; hash: string; version: number } | undefined;
  return (line) => {
    const key = `${line.place}${SEPARATOR}${line.record}`;
    const before = last?.key === key ? last : undefined;
    const version = before === undefined ? 1 : before.version + 1;
    last = { key, hash: line.hash, version };
    if ([line.account, line.place, line.record].some((part) => part.includes(SEPARATOR)))
      return 'it holds a character that no line is written with';
    if (sha256(lineText(line)) !== line.hash) return 'what it says is not what was written: its hash does not fit';
    if (line.previous !== (before?.hash ?? null))
      return before === undefined
        ? 'it follows a line that is not there any more'
        : 'it does not follow the line before it: one was taken out, put in or moved';
    if (line.version !== null && Number(line.version) !== version)
      return `it is version ${line.version} where version ${version} was expected`;
    return undefined;
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
    if (sha256(sealText(seal)) !== seal.hash) return 'its hash does not fit: it was rewritten';
    if (seal.previous !== (before?.hash ?? null) || Number(seal.number) !== Number(before?.number ?? 0) + 1)
      return 'it does not follow the seal before it';
    if (seal.fromTransaction !== (before?.toTransaction ?? '0'))
      return 'it does not begin where the seal before it ends';
    if (found.lines !== Number(seal.lines)) return `it covers ${seal.lines} lines, and ${found.lines} are there`;
    return found.root === seal.root ? undefined : 'the lines that it covers are not the ones that were sealed';
  };
}
