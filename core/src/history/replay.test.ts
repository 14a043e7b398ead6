import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { ChainedLine } from './chain.ts';
import { differingColumn, sameCaptured, type Told, told } from './replay.ts';

type Row = Record<string, string | number | null>;
const stripped = (row: Row): Row => Object.fromEntries(Object.entries(row).filter(([, value]) => value !== null));

const line = (id: number, kind: string, before: Row | null, after: Row | null): ChainedLine => ({
  id,
  micros: String(id),
  account: 'quayclerk',
  through: null,
  transaction: '1',
  place: 'data.quay_berths',
  record: '1',
  version: String(id),
  kind,
  before: before && JSON.stringify(before),
  after: after && JSON.stringify(after),
  reasons: null,
  salt: null,
  digest: null,
  previous: null,
  hash: '',
});

const rows = fc.array(
  fc.record({ number: fc.option(fc.string()), depth: fc.option(fc.integer()), note: fc.option(fc.string()) }),
  { minLength: 1, maxLength: 8 },
);

/** The lines of a row that takes these states one after another. */
const linesOf = (states: readonly Row[]): ChainedLine[] =>
  states.map((row, at) => {
    const previous = states[at - 1];
    if (!previous) return line(1, 'add', null, stripped(row));
    const changed = Object.keys(row).filter((name) => row[name] !== previous[name]);
    const only = (of: Row): Row => stripped(Object.fromEntries(changed.map((name) => [name, of[name] ?? null])));
    return line(at + 1, 'change', only(previous), only(row));
  });

const sumOf = (lines: readonly ChainedLine[]): Told =>
  lines.reduce<Told | undefined>((sum, one) => told(sum, one), undefined) as Told;

test('the lines of a row add up to the row, whatever it went through', () => {
  fc.assert(
    fc.property(rows, (states) => {
      const { state, first, last } = sumOf(linesOf(states));
      expect(differingColumn(state ?? new Map(), states.at(-1) ?? {})).toBeUndefined();
      expect([first.id, last.id]).toEqual([1, states.length]);
    }),
  );
});

test('a value that no line tells is found, and so is one that is missing', () => {
  fc.assert(
    fc.property(rows, fc.string(), (states, other) => {
      const { state = new Map() } = sumOf(linesOf(states));
      const row: Row = states.at(-1) ?? {};
      fc.pre(row.note !== other);
      expect(differingColumn(state, { ...row, note: other })).toBe('note');
      if (row.note !== null) expect(differingColumn(state, { ...row, note: null })).toBe('note');
    }),
  );
});

test('an erased row is not there, and begins anew when its key is added again', () => {
  const erased = sumOf([line(1, 'add', null, { number: 'A-1' }), line(2, 'erase', { number: '' }, null)]);
  expect(erased.state).toBeUndefined();
  expect(told(erased, line(3, 'add', null, { number: 'A-2' }))).toMatchObject({ first: { id: 3 } });
});

test('while a column is converted, either value will do; afterwards only the new one', () => {
  const { state = new Map() } = sumOf([
    line(1, 'add', null, { length: '7' }),
    line(2, 'change', { length: '7' }, { length: 7 }),
  ]);
  const converting = new Map([['length', 'length_next']]);
  expect(differingColumn(state, { length: '7', length_next: 7 }, converting)).toBeUndefined();
  expect(differingColumn(state, { length: '8', length_next: 8 }, converting)).toBe('length');
  expect(differingColumn(state, { length: 7 })).toBeUndefined();
  expect(differingColumn(state, { length: '7' })).toBe('length');
});

test('moments are the same in any time zone, and other text only to the letter', () => {
  expect(sameCaptured('2026-08-17T12:00:00+00:00', '2026-08-17T14:00:00+02:00')).toBe(true);
  expect(sameCaptured('2026-08-17T12:00:00+00:00', '2026-08-17T12:00:00+02:00')).toBe(false);
  expect(sameCaptured('2026-08-17', '2026-08-18')).toBe(false);
  expect(sameCaptured([1, { a: 2 }], [1, { a: 2 }])).toBe(true);
  expect(sameCaptured([1, 2], [1, 2, 3])).toBe(false);
});
