import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import {
  type ChainedLine,
  chainFollower,
  digestText,
  lineText,
  type Seal,
  sealFollower,
  sealText,
  vouchedText,
} from './chain.ts';

const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex');

/** The lines of a few records, chained as the database chains them, record by record. */
function chained(changes: readonly { record: number; after: string; old?: boolean }[]): ChainedLine[] {
  const last = new Map<number, ChainedLine>();
  const lines = changes.map(({ record, after, old = false }, at) => {
    const before = last.get(record);
    const bare = {
      id: at + 1,
      micros: String(1_000_000 + at),
      account: 'quayclerk',
      through: null,
      transaction: String(at),
      place: 'data.quay_berths',
      record: String(record),
      version: String(Number(before?.version ?? 0) + 1),
      kind: before ? 'change' : 'add',
      before: before?.after ?? null,
      after: JSON.stringify({ number: after }),
      reasons: null,
      salt: old ? null : sha256(`salt ${at}`),
      digest: null,
      previous: before?.hash ?? null,
      hash: '',
    };
    const digested = { ...bare, digest: old ? null : sha256(digestText(bare)) };
    const line = { ...digested, hash: sha256(lineText(digested)) };
    last.set(record, line);
    return line;
  });
  return lines.sort((a, b) => Number(a.record) - Number(b.record) || a.id - b.id);
}

const follow = (lines: readonly ChainedLine[]): number => {
  let key: string | undefined;
  let follower = chainFollower(sha256);
  return lines.findIndex((line) => {
    if (line.record !== key) [key, follower] = [line.record, chainFollower(sha256)];
    return follower.next(line) !== undefined;
  });
};

const changes = fc.array(fc.record({ record: fc.integer({ min: 1, max: 4 }), after: fc.string(), old: fc.boolean() }), {
  minLength: 1,
  maxLength: 30,
});

test('a chain that nobody touched fits, whatever its lines say', () => {
  fc.assert(
    fc.property(changes, (some) => {
      expect(follow(chained(some))).toBe(-1);
    }),
  );
});

test('any line altered is the first that does not fit', () => {
  const parts = ['account', 'micros', 'kind', 'after', 'transaction'] as const;
  fc.assert(
    fc.property(changes, fc.nat(), fc.constantFrom(...parts), (some, at, part) => {
      const lines = chained(some);
      const n = at % lines.length;
      const altered = lines.map((line, m) => (m === n ? { ...line, [part]: `${line[part]}9` } : line));
      expect(follow(altered)).toBe(n);
    }),
  );
});

test('any line taken out is noticed at the next of its record, and a swapped pair at the first of the two', () => {
  fc.assert(
    fc.property(changes, fc.nat(), (some, at) => {
      const lines = chained(some);
      const n = at % lines.length;
      const next = lines[n + 1];
      // The last line of a record is missed by the record itself and by its seal.
      if (next?.record !== lines[n]?.record || !next) return;
      expect(follow(lines.filter((_line, m) => m !== n))).toBe(n);
      const swapped = [...lines.slice(0, n), next, lines[n] as ChainedLine, ...lines.slice(n + 2)];
      expect(follow(swapped)).toBe(n);
    }),
  );
});

test('a chain still holds after the values of an erased record were removed, and only then', () => {
  fc.assert(
    fc.property(changes, (some) => {
      const lines = chained(some.map((one) => ({ ...one, record: 1 })));
      const last = lines.at(-1) as ChainedLine;
      const gone = lines.map((line) => ({ ...line, before: null, after: null, reasons: null, salt: null }));
      const version = String(Number(last.version) + 1);
      const erase = sealedLine({
        ...last,
        id: last.id + 1,
        kind: 'erase',
        version,
        before: '{"number":""}',
        after: null,
        salt: 'aa',
        previous: last.hash,
      });
      const old = lines.filter((line) => line.digest === null);
      const vouched = Object.fromEntries(old.map((line) => [line.id, sha256(vouchedText(line))]));
      const vouch = sealedLine({
        ...erase,
        id: erase.id + 1,
        version: null,
        before: null,
        after: JSON.stringify(vouched),
        previous: erase.hash,
      });
      const whole = [...gone, erase, ...(old.length > 0 ? [vouch] : [])];
      expect(misfitIn(whole)).toBeUndefined();
      expect(misfitIn(gone)).toContain('no line says that it was erased');
      const altered = whole.map((line, n) => (n === 0 ? { ...line, account: 'auditor' } : line));
      expect(misfitIn(altered)).toBeDefined();
    }),
  );
});

/** A line as it is written today, with the digest and the hash that its parts make. */
function sealedLine(bare: ChainedLine): ChainedLine {
  const digested = { ...bare, digest: sha256(digestText(bare)) };
  return { ...digested, hash: sha256(lineText(digested)) };
}

const misfitIn = (lines: readonly ChainedLine[]): string | undefined => {
  const follower = chainFollower(sha256);
  return lines.map((line) => follower.next(line)).find((why) => why !== undefined) ?? follower.end();
};

test('parts cannot flow into one another', () => {
  const [line] = chained([{ record: 1, after: 'x' }]) as [ChainedLine];
  const { next } = chainFollower(sha256);
  expect(next({ ...line, account: `quay\u001fclerk` })).toContain('no line is written with');
});

test('seals follow one another, and each holds its own lines', () => {
  const seal = (number: number, before: Seal | null): Seal => {
    const bare = {
      number: String(number),
      micros: '1',
      fromTransaction: before?.toTransaction ?? '0',
      toTransaction: String(number * 10),
      lines: '3',
      root: sha256(`root ${number}`),
      previous: before?.hash ?? null,
      // The first is of an older version, which knew of no oldest transaction.
      oldest: before ? '1' : null,
      hash: '',
    };
    return { ...bare, hash: sha256(sealText(bare)) };
  };
  const first = seal(1, null);
  const second = seal(2, first);
  const check = (seals: readonly Seal[], found = { lines: 3, root: '' }) => {
    const next = sealFollower(sha256);
    return seals.map((one) => next(one, { ...found, root: found.root || one.root })).find((why) => why !== undefined);
  };
  expect(check([first, second])).toBeUndefined();
  expect(check([second])).toContain('does not follow');
  expect(check([first, { ...second, lines: '2' }])).toContain('rewritten');
  expect(check([first, { ...second, oldest: '2' }])).toContain('rewritten');
  expect(check([first, second], { lines: 2, root: '' })).toContain('2 are there');
  expect(check([first, second], { lines: 3, root: sha256('other') })).toContain('not the ones that were sealed');
});
