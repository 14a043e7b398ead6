import { inferColumn } from '@fiche/core/imports';
import { newFieldSchema, type TableDefinition } from '@fiche/core/tables';
import { describe, expect, test } from 'vitest';
import type { Phrase } from '../parts/index.ts';
import { columnWords } from './columnWords.ts';
import { NO_PROPOSALS, proposePlan } from './plan.ts';
import { reasonWords, rowWords } from './rowWords.ts';
import type { Looked } from './useLook.ts';

const table = (id: string, label: string, fields: object[]) =>
  ({ id, label, kind: 'records', title: 'name', fields, rules: [], constraints: [] }) as unknown as TableDefinition;
const field = (id: string, label: string, type: string, more: object = {}) => ({
  ...newFieldSchema.parse({ label, type, ...more }),
  id,
});
const harbours = table('quay_harbours', 'Harbours', [field('name', 'Name', 'text')]);
const vessels = table('quay_vessels', 'Vessels', [
  field('registration', 'Registration', 'text', { unique: true }),
  field('harbour', 'Harbour', 'link', { settings: { table: 'quay_harbours' } }),
  field('since', 'Berthed on', 'date'),
  field('length', 'Length', 'decimal', { settings: { places: 1 } }),
]);
const tables = new Map([harbours, vessels].map((one) => [one.id, one]));
const cells: Record<string, string[]> = {
  Registration: ['GS-0421', 'GS-0007'],
  Harbour: ['Tern Cove', 'Gannet Quay'],
  'Berthed on': ['3/4/2026', '5/6/2026'],
  Length: ['12,5', '8,0'],
};
const looked = {
  columns: Object.entries(cells).map(([name, some], at) => ({
    name,
    at,
    samples: some,
    words: some,
    guess: inferColumn(some),
  })),
} as unknown as Looked;
const reads = (parts: Phrase): string => parts.map((part) => (typeof part === 'string' ? part : part.shown)).join('');
const into = (target: TableDefinition | undefined) => proposePlan(looked, tables, target, 'New', NO_PROPOSALS);
const sentences = (target: TableDefinition | undefined): string[] =>
  into(target).columns.map((column, at) =>
    reads(columnWords({ column, seen: looked.columns[at], target, tables, onSet: () => undefined })),
  );

describe('a column of a file as a sentence', () => {
  test('says where it goes, by what it finds a record, and how its dates and numbers are read', () => {
    expect(sentences(vessels)).toEqual([
      'Registration.',
      'Harbour to Harbours, found by its Name.',
      'Berthed on, read day first (the file does not say which: look at this).',
      'Length, with a decimal comma.',
    ]);
  });

  test('says which type a field of a new table gets', () => {
    expect(sentences(undefined)[0]).toBe('a text.');
    expect(sentences(undefined)[3]).toContain('a decimal, with a decimal comma');
  });

  test('can go nowhere, and to a link of a new table', () => {
    let set = into(undefined).columns[1];
    const [to] = columnWords({
      column: set as NonNullable<typeof set>,
      seen: looked.columns[1],
      target: undefined,
      tables,
      onSet: (next) => {
        set = next;
      },
    });
    if (typeof to !== 'object') throw new Error('The first slot says where it goes');
    to.onSet('link:quay_harbours');
    expect(set).toMatchObject({ to: { kind: 'new', field: { type: 'link', settings: { table: 'quay_harbours' } } } });
    to.onSet('-');
    expect(set).toMatchObject({ to: { kind: 'nowhere' }, matchOn: null });
  });
});

describe('what becomes of the rows', () => {
  const plan = into(vessels);
  test('without a key every row is a new record; with one, what is there is changed or skipped', () => {
    expect(reads(rowWords({ ...plan, key: [] }, vessels, () => undefined))).toBe(
      'A row finds its record by nothing: every row is a new record.',
    );
    expect(
      reads(rowWords({ ...plan, key: ['registration'], found: 'skip', missing: 'add' }, vessels, () => undefined)),
    ).toBe(
      'A row finds its record by Registration; where it finds one, the row is skipped; where not, a record is added.',
    );
  });

  test('rows that a rule asks about are refused, or accepted with one reason', () => {
    let next = plan;
    const [, slot] = reasonWords({ ...plan, reason: null }, (changed) => {
      next = changed;
    });
    if (typeof slot !== 'object') throw new Error('The slot takes the reason');
    expect(slot.shown).toBe('refused');
    slot.onSet(' measured anew ');
    expect(next.reason).toBe('measured anew');
    slot.onSet(' ');
    expect(next.reason).toBeNull();
  });
});
