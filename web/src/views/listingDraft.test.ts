import type { Listing } from '@fiche/core/views';
import { expect, test } from 'vitest';
import {
  sameListing,
  sortedBy,
  withColumn,
  withColumnAt,
  withFrozen,
  withoutColumn,
  withSort,
  withSummary,
  withWidths,
} from './listingDraft.ts';

const listing: Listing = {
  columns: [{ path: 'number' }, { path: 'harbour' }, { path: 'berth' }],
  filter: { kind: 'group', match: 'all', of: [] },
  sort: [],
  frozen: 1,
  group: null,
  shown: { as: 'list' },
};
const paths = (one: Listing): string[] => one.columns.map(({ path }) => path);

test('a column moves, comes and goes, and the others stay in order', () => {
  expect(paths(withColumnAt(listing, 2, 0))).toEqual(['berth', 'number', 'harbour']);
  expect(paths(withColumnAt(listing, 0, 1))).toEqual(['harbour', 'number', 'berth']);
  expect(paths(withColumn(listing, 'berth.longest'))).toEqual(['number', 'harbour', 'berth', 'berth.longest']);
  expect(paths(withoutColumn(listing, 'harbour'))).toEqual(['number', 'berth']);
});

test('a click on a heading sorts by that column alone, a second one the other way', () => {
  const once = sortedBy({ ...listing, sort: [{ path: 'berth', direction: 'down' }] }, 'number');
  expect(once.sort).toEqual([{ path: 'number', direction: 'up' }]);
  expect(sortedBy(once, 'number').sort).toEqual([{ path: 'number', direction: 'down' }]);
});

test('a column gets a summary and loses it', () => {
  const summed = withSummary(listing, 'berth', 'filled');
  expect(summed.columns[2]).toEqual({ path: 'berth', summary: 'filled' });
  expect(sameListing(withSummary(summed, 'berth', undefined), listing)).toBe(true);
});

test('further sorts are set and taken out by their place', () => {
  const one = withSort(listing, 0, { path: 'number', direction: 'up' });
  const two = withSort(one, 1, { path: 'berth', direction: 'down' });
  expect(two.sort.map((sort) => sort.path)).toEqual(['number', 'berth']);
  expect(withSort(two, 0, undefined).sort).toEqual([{ path: 'berth', direction: 'down' }]);
  expect([sameListing(one, two), sameListing(listing, { ...listing, label: 'x' } as Listing)]).toEqual([false, true]);
});

test('a column gets a width within bounds, and keeps its summary', () => {
  const summed = withSummary(listing, 'berth', 'filled');
  const wide = withWidths(summed, { berth: 5_000, number: 1, gone: 90 });
  expect(wide.columns).toEqual([
    { path: 'number', width: 40 },
    { path: 'harbour' },
    { path: 'berth', summary: 'filled', width: 800 },
  ]);
  expect(sameListing(withSummary(wide, 'berth', 'filled'), wide)).toBe(true);
  expect([withFrozen(listing, 99).frozen, withFrozen(listing, -1).frozen]).toEqual([6, 0]);
});
