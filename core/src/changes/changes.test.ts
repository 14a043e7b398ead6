import { expect, test } from 'vitest';
import { fieldOf, tableOf } from '../fixtures/tables.ts';
import { generateForm, prepareForm } from '../forms/index.ts';
import type { Tables } from '../tables/index.ts';
import {
  type ChangeOfMany,
  changePlanSchema,
  describeChange,
  type FieldSetting,
  prepareSettings,
  recordsNamed,
} from './index.ts';

const field = (...[id, type, more]: Parameters<typeof fieldOf>) => ({
  ...fieldOf(id, type, more),
  label: id[0]?.toUpperCase() + id.slice(1),
});
const berths = tableOf('berths', [field('number', 'text'), field('longest', 'decimal', { settings: { places: 1 } })]);
const stays = tableOf('stays', [
  field('berth', 'link', { settings: { table: 'berths' } }),
  field('length', 'decimal', { settings: { places: 1 } }),
  field('persons', 'wholeNumber', { required: true }),
  field('arrival', 'date'),
  field('note', 'text'),
  field('dues', 'decimal', { settings: { places: 2 }, calculation: 'length * 2.0' }),
]);
const tables: Tables = new Map([berths, stays].map((one) => [one.id, one]));
const record = {
  form: prepareForm(generateForm(stays), tables),
  account: 'quayclerk',
  now: '2026-08-17T10:00',
  values: { berth: 1, length: 8.5, persons: 2, arrival: '2026-08-01', note: null, dues: 17 },
  linked: { berth: { title: 'A-1', facts: { longest: 12 } } },
  hidden: {},
};
const prepare = (...settings: FieldSetting[]) => prepareSettings(settings, stays, tables);
const given = (setting: FieldSetting): unknown => {
  const prepared = prepare(setting);
  return 'problems' in prepared ? prepared.problems[0]?.message : prepared.valuesOf(record)[setting.field];
};

test('a field becomes a value, what another field holds, what a formula gives, or blank', () => {
  expect(given({ field: 'length', becomes: { kind: 'value', value: 9.25 } })).toBe(
    'At most one decimal place fits, such as 12.5.',
  );
  expect(given({ field: 'length', becomes: { kind: 'value', value: 9.5 } })).toBe(9.5);
  expect(given({ field: 'length', becomes: { kind: 'field', path: 'berth.longest' } })).toBe(12);
  expect(given({ field: 'note', becomes: { kind: 'field', path: 'arrival' } })).toBe('1 Aug 2026');
  expect(given({ field: 'length', becomes: { kind: 'calculation', source: 'length + 0.25' } })).toBe(8.8);
  expect(given({ field: 'note', becomes: { kind: 'blank' } })).toBe(null);
  expect(given({ field: 'note', becomes: { kind: 'replace', from: 'a', to: 'b' } })).toBe(null);
  expect(given({ field: 'length', becomes: { kind: 'replace', from: 'a', to: 'b' } })).toContain('holds no words');
});

test('what cannot be is said at its setting, with what to do', () => {
  const wrong = prepare(
    { field: 'gone', becomes: { kind: 'blank' } },
    { field: 'persons', becomes: { kind: 'blank' } },
    { field: 'dues', becomes: { kind: 'value', value: 1 } },
    { field: 'arrival', becomes: { kind: 'field', path: 'length' } },
    { field: 'berth', becomes: { kind: 'field', path: 'note' } },
    { field: 'note', becomes: { kind: 'value', value: '' } },
    { field: 'length', becomes: { kind: 'calculation', source: 'note + 1' } },
  );
  expect('problems' in wrong && wrong.problems.map(({ path, message }) => `${path} ${message}`)).toEqual([
    'set.0 gone is not a field of stays. Choose another.',
    'set.1 Persons is required: it cannot become blank.',
    'set.2 Dues is not written by people.',
    'set.3 Length is a decimal, and Arrival is a date. Choose a field of the same type, or write a formula.',
    'set.4 Note is a text, and Berth is a link. Choose a field of the same type, or write a formula.',
    'set.5 Write what Note becomes, or choose “blank”.',
    expect.stringContaining('set.6 '),
  ]);
});

test('a change reads as a sentence, with the titles of the records that it names', () => {
  const what: ChangeOfMany = {
    kind: 'set',
    set: [
      { field: 'berth', becomes: { kind: 'value', value: 3 } },
      { field: 'length', becomes: { kind: 'field', path: 'berth.longest' } },
      { field: 'note', becomes: { kind: 'blank' } },
      { field: 'arrival', becomes: { kind: 'value', value: '2026-08-17' } },
    ],
  };
  expect(recordsNamed(what, stays)).toEqual([{ table: 'berths', id: 3 }]);
  expect(describeChange(what, stays, tables, new Map([['berths:3', 'B-1']]))).toBe(
    'Berth becomes B-1; Length becomes Berth’s Longest; Note becomes blank; Arrival becomes 17 Aug 2026',
  );
  expect(describeChange({ kind: 'archive' }, stays, tables, new Map())).toBe('archived');
});

test('a plan names at least one record and one field, and no more than fit', () => {
  const plan = (ids: number[], set: object[]) =>
    changePlanSchema.safeParse({ what: { kind: 'set', set }, records: { kind: 'some', ids } }).success;
  const blank = { field: 'note', becomes: { kind: 'blank' } };
  expect([plan([1], [blank]), plan([], [blank]), plan([1], [])]).toEqual([true, false, false]);
  expect(
    plan(
      Array.from({ length: 10_001 }, (_, at) => at + 1),
      [blank],
    ),
  ).toBe(false);
});
