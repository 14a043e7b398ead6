import { expect, test } from 'vitest';
import { fieldOf, tableOf } from '../fixtures/tables.ts';
import { auditValue, columnAt, groupTitle, listedText, plainListing, summariesUnder } from './index.ts';

const table = tableOf('quay_stays', [
  fieldOf('note', 'text'),
  fieldOf('length', 'decimal', { settings: { places: 1 } }),
  fieldOf('vessel', 'link', { settings: { table: 'quay_vessels' } }),
]);
const vessels = tableOf('quay_vessels', [fieldOf('name', 'text')]);
const tables = new Map([table, vessels].map((one) => [one.id, one]));
const column = (path: string) => {
  const found = columnAt(tables, table.id, path);
  if (!found) throw new Error(`There is no ${path}`);
  return found;
};
const record = {
  values: { note: 'quiet', length: 8.5, vessel: 7 },
  behind: { 'vessel.name': { value: 'Tystie', title: null } },
  linked: { vessel: { title: 'V-7 Tystie' } },
  stamp: {
    createdAt: '2027-03-01T10:15:00Z',
    createdBy: 'ida',
    changedAt: '2027-03-02T10:15:00Z',
    changedBy: 'harbourmaster',
  },
};

test('a cell says what its record has: values as their type shows them, links by title, what stands behind them, stamps', () => {
  const texts = ['note', 'length', 'vessel', 'vessel.name', 'created_by'].map((path) =>
    listedText(record, column(path)),
  );
  expect(texts).toEqual(['quiet', '8.5', 'V-7 Tystie', 'Tystie', 'ida']);
  expect(listedText(record, column('changed_at'))).toMatch(/^2 Mar 2027, /);
  expect(auditValue(record.stamp, 'changed_at')).toBe('2027-03-02T10:15:00Z');
  expect(listedText({ ...record, values: {}, behind: {}, linked: {} }, column('vessel'))).toBe('');
});

test('a group is called by what it has in common; one without says without what', () => {
  expect(groupTitle({ value: 7, title: 'V-7 Tystie' }, column('vessel'))).toBe('V-7 Tystie');
  expect(groupTitle({ value: 8.5, title: null }, column('length'))).toBe('8.5');
  expect(groupTitle({ value: null, title: null }, column('vessel'))).toBe('without vessel');
});

test('a summary stands under its column with its word, and not where there is nothing to sum', () => {
  const listing = { ...plainListing(table), columns: [{ path: 'note' }, { path: 'length', summary: 'sum' as const }] };
  const known = [column('note'), column('length')];
  expect([...summariesUnder(listing, known, { length: 20.5 })]).toEqual([['length', 'sum 20.5']]);
  expect([...summariesUnder(listing, known, { length: null })]).toEqual([]);
});
