import { describe, expect, test } from 'vitest';
import { NO_CHANGES, partsOf, put, type Row, takeOut, troublesOf } from './combinations.ts';

const record = (id: number, ...levels: string[]): Row => ({
  key: String(id),
  record: { id, version: 1, levels },
  levels,
});
const rows = [record(1, 'Channel', 'Silt'), record(2, 'Channel', 'Rock')];
const words = (of: readonly Row[]) => of.map((row) => row.levels.join(' › '));

describe('combinations that are changed before they are saved', () => {
  test('a block pasted into the blank row becomes new rows, and never runs into those that are there', () => {
    const pasted = put(
      NO_CHANGES,
      rows,
      0,
      0,
      [
        ['Basin', 'Silt'],
        ['Basin', 'Rock'],
        ['', ''],
      ],
      2,
    );
    expect(words(pasted.added)).toEqual(['Basin › Silt', 'Basin › Rock']);
    expect(pasted.changed.size).toBe(0);
    const more = put(pasted, rows, 2, 1, [['Wreck']], 2);
    expect(words(more.added)).toEqual(['Basin › Silt', 'Basin › Rock', ' › Wreck']);
    expect(new Set(more.added.map((row) => row.key)).size).toBe(3);
  });

  test('a block pasted into rows that are there changes them, and what goes beyond them becomes new rows', () => {
    const pasted = put(NO_CHANGES, rows, 2, 1, [['Wreck'], ['Sand']], 2);
    expect(words([...pasted.changed.values()])).toEqual(['Channel › Wreck']);
    expect(words(pasted.added)).toEqual([' › Sand']);
    expect(put(pasted, [rows[0] as Row, pasted.changed.get(2) as Row], 3, 1, [['Rock']], 2).changed.size).toBe(0);
  });

  test('what is empty or twice is said at its row; what is taken out is archived, a new one forgotten', () => {
    const pasted = put(
      NO_CHANGES,
      rows,
      0,
      0,
      [
        ['Channel', 'Silt'],
        ['Basin', ''],
        ['Basin', 'Silt'],
      ],
      2,
    );
    expect([...troublesOf(pasted, rows, ['Water', 'Cause']).values()]).toEqual([
      'This combination occurs twice.',
      'Cause is empty.',
    ]);
    const less = takeOut(takeOut(pasted, pasted.added[0] as Row), rows[0] as Row);
    expect([words(less.added), [...less.archived]]).toEqual([['Basin › ', 'Basin › Silt'], [[1, 1]]]);
  });

  test('many changes are sent in parts', () => {
    const lines = Array.from({ length: 12_000 }, (_one, n) => ['Channel', `Cause ${n}`]);
    const parts = partsOf(takeOut(put(NO_CHANGES, rows, 0, 0, lines, 2), rows[0] as Row));
    expect(parts.map(({ body }) => [body.add.length, body.archive.length])).toEqual([
      [5_000, 1],
      [5_000, 0],
      [2_000, 0],
    ]);
  });
});
