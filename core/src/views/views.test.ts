import { beforeAll, expect, test } from 'vitest';
import { all, type Group, is, questionsOf, withAnswers } from '../conditions/index.ts';
import { loadExpressions } from '../expressions/index.ts';
import { testField as field } from '../fixtures/testField.ts';
import type { FieldDefinition, TableDefinition } from '../tables/index.ts';
import {
  columnAt,
  columnsFor,
  describeView,
  formatSummary,
  isSortable,
  listingProblems,
  listingSeenBy,
  plainListing,
  prepareCalculation,
  recordsInFilter,
  summariesOf,
  viewDefinitionSchema,
} from './index.ts';

const table = (id: string, label: string, fields: FieldDefinition[]): TableDefinition => ({
  id,
  cabinet: 'quay',
  label,
  description: '',
  kind: 'records',
  archived: false,
  title: null,
  card: [],
  rules: [],
  constraints: [],
  fields,
  retired: [],
  revision: 1,
});
const stays = table('quay_stays', 'Stays', [
  field('number', 'Number', 'text'),
  field('berth', 'Berth', 'link', { table: 'quay_berths' }),
  field('papers', 'Papers', 'attachments'),
]);
const berths = table('quay_berths', 'Berths', [
  field('number', 'Number', 'text'),
  field('longest', 'Longest', 'decimal', { places: 2 }),
]);
const named = (...all: TableDefinition[]) => new Map(all.map((one) => [one.id, one]));
const tables = named(stays, berths);
const column = (path: string) => ({ kind: 'column' as const, path });
const listing = (more = {}) => ({ ...plainListing(stays), ...more });
const onBerth = all(is(column('berth'), { kind: 'constant', value: 7 }));

beforeAll(loadExpressions);

test('a view can have its fields, those behind its links, and who added or changed a record and when', () => {
  expect(columnsFor(tables, stays).map(({ path, label }) => `${path} ${label}`)).toEqual([
    'number Number',
    'berth Berth',
    'papers Papers',
    'berth.number Berth’s Number',
    'berth.longest Berth’s Longest',
    'created_at Added',
    'created_by Added by',
    'changed_at Changed',
    'changed_by Changed by',
  ]);
  expect(
    ['number', 'berth', 'papers', 'created_at'].map((path) =>
      isSortable(columnAt(tables, 'quay_stays', path) ?? never()),
    ),
  ).toEqual([true, true, false, true]);
});

test('what is not there, and what cannot sort, is named at its place', () => {
  const wrong = listing({
    columns: [{ path: 'number' }, { path: 'mooring' }],
    sort: [{ path: 'papers', direction: 'up' }],
    filter: all(is(column('berth.depth'), { kind: 'constant', value: 2 })),
  });
  expect(listingProblems(wrong, stays, tables).map((one) => one.path)).toEqual(['columns.1', 'sort.0', 'filter']);
  expect(
    listingProblems(listing({ filter: all(is(column('created_by'), { kind: 'account' })) }), stays, tables),
  ).toEqual([]);
  expect(
    listingProblems(listing({ filter: all(is(column('berth'), { kind: 'form', path: 'berth' })) }), stays, tables),
  ).toHaveLength(1);
});

test('whoever does not see a field has the view without it, and not at all where its filter reads it', () => {
  const seen = named({ ...stays, fields: stays.fields.filter((one) => one.id !== 'berth') }, berths);
  const narrower = seen.get('quay_stays') ?? never();
  const sorted = listing({
    sort: [
      { path: 'berth', direction: 'up' },
      { path: 'number', direction: 'down' },
    ],
  });
  expect(listingSeenBy(sorted, narrower, seen)).toMatchObject({
    columns: [{ path: 'number' }, { path: 'papers' }],
    sort: [{ path: 'number', direction: 'down' }],
  });
  expect(listingSeenBy(listing({ filter: onBerth }), narrower, seen)).toBeUndefined();
  expect(listingSeenBy(listing({ columns: [{ path: 'berth' }] }), narrower, seen)).toBeUndefined();
});

test('a change of a view reads in words, with the titles of the records that it names', () => {
  const before = { label: 'On berth', definition: listing(), shared: false };
  const after = {
    ...before,
    definition: listing({ filter: onBerth, sort: [{ path: 'number', direction: 'down' }] }),
    shared: true,
  };
  expect(recordsInFilter(onBerth, 'quay_stays', tables)).toEqual([{ table: 'quay_berths', id: 7 }]);
  const titles = new Map([['quay_berths:7', 'A-7']]);
  expect(
    describeView(before, after, 'quay_stays', tables, titles).map(
      (one) => `${one.label}: ${one.before} → ${one.after}`,
    ),
  ).toEqual(['Shared:  → with everybody', 'Filter:  → Berth is A-7', 'Sorted by:  → Number, descending']);
});

test('a column has the summaries that fit what it holds, and they read like its values', () => {
  const longest = columnAt(tables, 'quay_stays', 'berth.longest') ?? never();
  const number = columnAt(tables, 'quay_stays', 'number') ?? never();
  expect(summariesOf(longest)).toEqual(['filled', 'sum', 'average', 'least', 'most']);
  expect(summariesOf(number)).toEqual(['filled']);
  expect(summariesOf(columnAt(tables, 'quay_stays', 'created_at') ?? never())).toEqual([]);
  expect(formatSummary(longest, 'sum', 1234.5)).toBe('1,234.50');
  expect(formatSummary(number, 'filled', 12345)).toBe('12,345');
  expect(formatSummary(longest, 'average', null)).toBe('');
});

test('a view is its own and lists everything where nothing else is said', () => {
  expect(viewDefinitionSchema.parse({ label: 'All', columns: [{ path: 'number' }] })).toMatchObject({
    filter: { match: 'all', of: [] },
    sort: [],
    shared: false,
    opens: false,
  });
  expect(viewDefinitionSchema.safeParse({ label: 'None', columns: [] }).success).toBe(false);
});

function never(): never {
  throw new Error('not there');
}

test('a view can count what links to its records and sum numbers of that; a column that is gone is a fault', () => {
  const withDues = table('quay_stays', 'Stays', [...stays.fields, field('dues', 'Dues', 'decimal', { places: 2 })]);
  const both = named(withDues, berths);
  const paths = columnsFor(both, berths).map(({ path, label }) => `${path} ${label}`);
  expect(paths).toContain('quay_stays:berth Number of Stays');
  expect(paths).toContain('quay_stays:berth.dues Sum of Stays’ Dues');
  expect(paths.some((one) => one.startsWith('quay_stays:berth.number'))).toBe(false);
  const sum = columnAt(both, 'quay_berths', 'quay_stays:berth.dues');
  expect(sum && [isSortable(sum), summariesOf(sum), formatSummary(sum, 'sum', 12.5)]).toEqual([
    false,
    expect.arrayContaining(['sum']),
    '12.50',
  ]);
  // Two links of one table to another are told apart.
  const twice = table('quay_moves', 'Moves', [
    field('from', 'From', 'link', { table: 'quay_berths' }),
    field('to', 'To', 'link', { table: 'quay_berths' }),
  ]);
  expect(columnAt(named(twice, berths), 'quay_berths', 'quay_moves:to')?.label).toBe('Number of Moves by To');
  const counted = { ...plainListing(berths), columns: [{ path: 'quay_stays:berth.dues' }] };
  expect(listingProblems(counted, berths, both)).toEqual([]);
  expect(listingProblems(counted, berths, tables).map((one) => one.path)).toEqual(['columns.0']);
  expect(
    listingSeenBy({ ...counted, columns: [...counted.columns, { path: 'number' }] }, berths, tables)?.columns,
  ).toEqual([{ path: 'number' }]);
});

test('what is asked each time takes an answer by its place, and falls away without one', () => {
  const asked = { kind: 'asked' as const };
  const longer = {
    kind: 'compare' as const,
    left: column('berth.longest'),
    operator: 'atLeast' as const,
    right: asked,
  };
  const named = is(column('number'), { kind: 'constant', value: 'A-1' });
  const filter: Group = {
    ...all(named, is(column('berth'), asked)),
    of: [named, is(column('berth'), asked), { kind: 'group', match: 'any', of: [longer] }],
  };
  expect(questionsOf(filter).map((one) => `${one.path} ${one.operator}`)).toEqual([
    'berth is',
    'berth.longest atLeast',
  ]);
  expect(withAnswers(filter, [])).toEqual(all(named));
  expect(withAnswers(filter, [7])).toEqual(all(named, is(column('berth'), { kind: 'constant', value: 7 })));
  expect(withAnswers(filter, [null, 12]).of).toEqual([
    named,
    { kind: 'group', match: 'any', of: [{ ...longer, right: { kind: 'constant', value: 12 } }] },
  ]);
  expect(listingProblems(listing({ filter }), stays, tables)).toEqual([]);
  const nobody = all({ kind: 'compare', left: asked, operator: 'is', right: asked });
  expect(listingProblems(listing({ filter: nobody }), stays, tables)[0]?.message).toContain('asked each time');
});

test('a calculated column reads fields that are there, gives what it is shown as, and is neither sorted nor summed', () => {
  const calculation = { label: 'Room', source: 'berth.longest * 2.0', as: 'decimal' as const, places: 1 };
  const room = { path: '=1', calculation };
  const prepared = prepareCalculation('=1', calculation, stays, tables);
  expect('reads' in prepared && [prepared.reads, prepared.calculate(() => 6.25, '2026-08-17T10:00')]).toEqual([
    ['berth.longest'],
    12.5,
  ]);
  const problemsOf = (columns: object[], more = {}) =>
    listingProblems(listing({ columns, ...more }) as never, stays, tables).map(
      ({ path, message }) => `${path} ${message}`,
    );
  expect(problemsOf([room])).toEqual([]);
  expect(problemsOf([{ ...room, calculation: { ...calculation, source: 'gone + 1' } }])[0]).toContain(
    'columns.0 Room:',
  );
  expect(problemsOf([{ ...room, calculation: { ...calculation, as: 'yesNo' } }])[0]).toContain('gives a number');
  expect(problemsOf([{ path: '=1' }])[0]).toContain('has no formula');
  expect(problemsOf([{ path: 'number', calculation }])[0]).toContain('is a field');
  expect(problemsOf([{ ...room, summary: 'sum' }])[0]).toContain('has no sum');
  expect(problemsOf([room], { sort: [{ path: '=1', direction: 'up' }] })).not.toEqual([]);
  // Whoever does not see the longest has a list without it.
  const narrow = named(stays, { ...berths, fields: berths.fields.slice(0, 1) });
  const seen = listingSeenBy(listing({ columns: [{ path: 'number' }, room] }) as never, stays, narrow);
  expect(seen?.columns.map((one) => one.path)).toEqual(['number']);
});
