import { describe, expect, test } from 'vitest';
import { fieldOf, tableOf } from '../fixtures/tables.ts';
import { type DefinitionLine, sameColumn, tablesThen, tableThen } from './then.ts';

const berths = tableOf('quay_berths', [fieldOf('number', 'text'), fieldOf('longest', 'decimal')], {
  label: 'Berths',
  title: 'number',
  retired: [fieldOf('depth', 'decimal')],
  card: ['longest', 'depth'],
});
const tables = new Map([[berths.id, berths]]);
const line = (record: string, before: object | null, after: object | null): DefinitionLine => ({
  place: record.includes('.') ? 'fiche.field' : 'fiche.table',
  record,
  before: before as DefinitionLine['before'],
  after: after as DefinitionLine['after'],
});
const made = line('quay_berths', null, { label: 'Places', title: 'number', archived_at: null });
const number = line('quay_berths.number', null, {
  label: 'No.',
  type: 'wholeNumber',
  settings: {},
  required: true,
  retired_at: null,
});
const depth = line('quay_berths.depth', null, {
  label: 'Depth',
  type: 'decimal',
  settings: { places: 1 },
  retired_at: null,
});
const retired = line('quay_berths.depth', { retired_at: null }, { retired_at: '2026-08-01T10:00:00Z' });
const renamed = line('quay_berths.number', { label: 'No.', type: 'wholeNumber' }, { label: 'number', type: 'text' });
const known = new Set([made, number, depth].map((one) => `${one.place} ${one.record}`));
const then = (...lines: DefinitionLine[]) => tablesThen(tables, lines, known).get('quay_berths');

describe('a table as it was defined', () => {
  test('has its names, types and fields of then, those that were retired later too', () => {
    const early = then(made, number, depth);
    expect(early?.label).toBe('Places');
    expect(early?.fields.map(({ id, label, type, required }) => [id, label, type, required])).toEqual([
      ['number', 'No.', 'wholeNumber', true],
      ['longest', 'longest', 'decimal', false],
      ['depth', 'Depth', 'decimal', false],
    ]);
    expect(then(made, number, depth, retired, renamed)?.fields.map(({ id, label, type }) => [id, label, type])).toEqual(
      [
        ['number', 'number', 'text'],
        ['longest', 'longest', 'decimal'],
      ],
    );
  });

  test('is not there before it was made, and neither is a field', () => {
    expect(then()).toBeUndefined();
    expect(then(made)?.fields.map((one) => one.id)).toEqual(['longest']);
  });

  test('counts as today where its lines are not kept', () => {
    const unknown = tablesThen(tables, [], new Set()).get('quay_berths');
    expect([unknown?.label, unknown?.title, unknown?.fields.map((one) => one.id)]).toEqual([
      'Berths',
      'number',
      ['number', 'longest'],
    ]);
  });

  test('of a type that there is no more keeps nothing that could be read', () => {
    const strange = line('quay_berths.number', null, {
      label: 'No.',
      type: 'hologram',
      settings: {},
      retired_at: null,
    });
    expect(then(made, strange)?.fields.map((one) => one.id)).toEqual(['longest']);
  });

  test('is told within what somebody sees of it today, without rules and ripples', () => {
    const early = then(made, number, depth);
    const seen = {
      ...berths,
      fields: berths.fields.filter((one) => one.id !== 'number'),
      rules: [{}],
    } as unknown as typeof berths;
    const told = early && tableThen(seen, early);
    expect(told?.fields.map((one) => one.id)).toEqual(['longest', 'depth']);
    expect([told?.title, told?.card, told?.rules, told?.ripples]).toEqual([null, ['longest', 'depth'], [], []]);
    expect(early && tableThen(berths, early).title).toBe('number');
  });
});

test('values of then are read as those of today where the column is of the same kind', () => {
  expect(sameColumn(fieldOf('length', 'text'), fieldOf('length', 'decimal'))).toBe(false);
  expect(sameColumn(fieldOf('note', 'longText'), fieldOf('note', 'text'))).toBe(true);
});
