import { importPlanSchema, inferColumn } from '@fiche/core/imports';
import { newFieldSchema, type TableDefinition } from '@fiche/core/tables';
import { describe, expect, test } from 'vitest';
import { NO_PROPOSALS, proposePlan, withDecimal, withType } from './plan.ts';
import type { Looked } from './useLook.ts';

const column = (name: string, at: number, cells: string[]): Looked['columns'][number] => ({
  name,
  at,
  samples: cells,
  words: [...new Set(cells)],
  guess: inferColumn(cells),
});
const looked: Looked = {
  kind: 'looked',
  reading: { kind: 'csv', encoding: 'utf-8', separator: ';', sheet: 1, header: 0 },
  sheets: [],
  top: [],
  columns: [
    column('Registration', 0, ['GS-0421', 'GS-0007']),
    column('Berthed on', 1, ['17.11.2026', '3.12.2026']),
    column('Harbour', 2, ['Tern Cove', 'Gannet Quay']),
    column('Reason', 3, ['Length: too long']),
  ],
};
const field = (id: string, label: string, type: string, more: object = {}) => ({
  ...newFieldSchema.parse({ label, type, ...more }),
  id,
});
const table = (id: string, fields: TableDefinition['fields'], title: string): TableDefinition => ({
  id,
  cabinet: 'quay',
  label: id,
  description: '',
  kind: 'records',
  title,
  fields,
  retired: [],
  rules: [],
  card: [],
  constraints: [],
  revision: 1,
});
const harbours = table('quay_harbours', [field('name', 'Name', 'text')], 'name');
const vessels = table(
  'quay_vessels',
  [
    field('registration', 'Registration', 'text', { unique: true }),
    field('harbour', 'Harbour', 'link', { settings: { table: 'quay_harbours' } }),
    field('since', 'Berthed on', 'date'),
  ],
  'registration',
);
const tables = new Map([harbours, vessels].map((one) => [one.id, one]));

describe('what a file proposes', () => {
  test('for a table that is there: its fields, links by their title, and a unique field as the key', () => {
    const plan = proposePlan(looked, tables, vessels, '', NO_PROPOSALS);
    expect(importPlanSchema.parse(plan)).toEqual(plan);
    expect(plan).toMatchObject({
      into: { kind: 'table', table: 'quay_vessels' },
      key: ['registration'],
      found: 'change',
    });
    expect(plan.columns.map(({ to, matchOn }) => [to.kind === 'field' ? to.field : to.kind, matchOn])).toEqual([
      ['registration', null],
      ['since', null],
      ['harbour', 'name'],
      ['nowhere', null],
    ]);
  });

  test('for a new table: a type for each column, and links where their cells name records', () => {
    const links = [{ name: 'Harbour', table: 'quay_harbours', field: 'name' }];
    const plan = proposePlan(looked, tables, undefined, 'Winter berths', { links, levels: [] });
    expect(importPlanSchema.safeParse(plan).success).toBe(true);
    expect(
      plan.columns.map(({ to }) => (to.kind === 'new' ? [to.field.label, to.field.type, to.field.settings] : to.kind)),
    ).toEqual([
      ['Registration', 'text', {}],
      ['Berthed on', 'date', {}],
      ['Harbour', 'link', { table: 'quay_harbours' }],
      'nowhere',
    ]);
    expect(plan.columns[2]?.matchOn).toBe('name');
  });

  test('another decimal mark for a column brings the type that its numbers then have', () => {
    const [first] = proposePlan(looked, tables, undefined, 'Winter berths', NO_PROPOSALS).columns;
    if (!first) throw new Error('A column is missing');
    const depths = {
      ...first,
      to: { kind: 'new' as const, field: newFieldSchema.parse({ label: 'Depth', type: 'wholeNumber' }) },
    };
    const comma = withDecimal(depths, ',', ['1,234', '2,500']);
    expect(comma).toMatchObject({ decimal: ',', to: { field: { type: 'decimal', settings: { places: 3 } } } });
    expect(withDecimal(comma, '.', ['1,234', '2,500'])).toMatchObject({
      decimal: '.',
      to: { field: { type: 'wholeNumber' } },
    });
  });

  test('another type for a column brings what that type needs', () => {
    const [, , harbour] = proposePlan(looked, tables, undefined, 'Winter berths', NO_PROPOSALS).columns;
    if (!harbour) throw new Error('A column is missing');
    expect(withType(harbour, 'choice', ['Tern Cove', 'Gannet Quay']).to).toMatchObject({
      field: { type: 'choice', settings: { choices: ['Tern Cove', 'Gannet Quay'] } },
    });
    expect(withType(harbour, 'decimal', []).to).toMatchObject({ field: { settings: { places: 2 } } });
  });
});
