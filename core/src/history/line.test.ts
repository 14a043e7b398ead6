import { expect, test } from 'vitest';
import { tables } from '../entry/fixtures/harbour.ts';
import { describeChanges, linksIn } from './index.ts';

const fields = tables.get('stays')?.fields ?? [];

test('a line reads in words, in the order of the table, with linked records by their title', () => {
  const before = { departure: '2026-08-19T10:00:00', berth: 111, length: null };
  const after = { departure: '2026-09-02T10:00:00', berth: 999, length: 11.2 };
  expect(describeChanges(fields, before, after, new Map([['berths:111', 'A-1']]))).toMatchObject([
    { field: 'berth', label: 'berth', before: 'A-1', after: '#999' },
    { field: 'length', label: 'length', before: '', after: '11.2' },
    { field: 'departure', label: 'departure', before: '19 Aug 2026, 10:00', after: '2 Sep 2026, 10:00' },
  ]);
});

test('a column that is no field any more is still shown, under its own name; the archive mark is not a change', () => {
  const changes = describeChanges(
    fields,
    { colour: 'red', archived_at: null },
    { colour: 'blue', archived_at: 'x' },
    new Map(),
  );
  expect(changes).toMatchObject([{ field: 'colour', label: 'colour', before: 'red', after: 'blue' }]);
});

test('the records that a line names are collected for their titles', () => {
  expect(linksIn(fields, { harbour: 1, berth: null }, { harbour: 2 }, null)).toMatchObject([
    { table: 'harbours', id: 1 },
    { table: 'harbours', id: 2 },
  ]);
});
