import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { all, type Condition, type Operand } from '../conditions/index.ts';
import { fieldOf, tableOf } from '../fixtures/tables.ts';
import type { TableDefinition } from '../tables/index.ts';
import {
  conditionToSql,
  inlined,
  isLimited,
  isPast,
  isStamp,
  quoted,
  recordsOf,
  relation,
  SeenTables,
  seesAllOf,
  wholeTable,
} from './index.ts';

const berths = tableOf('quay_berths', [
  fieldOf('number', 'text'),
  fieldOf('longest', 'decimal'),
  fieldOf('places', 'wholeNumber'),
  fieldOf('opened', 'date'),
  fieldOf('services', 'choices', { settings: { choices: ['Power', 'Water'] } }),
  fieldOf('next', 'link', { settings: { table: 'quay_berths' } }),
]);
const tables = new Map<string, TableDefinition>([[berths.id, berths]]);
const column = (path: string): Operand => ({ kind: 'column', path });
const constant = (value: string | number | boolean): Operand => ({ kind: 'constant', value });
type Binary = 'is' | 'isNot' | 'less' | 'atMost' | 'more' | 'atLeast' | 'has' | 'hasNot';
const compare = (left: Operand, operator: Binary, right: Operand): Condition => ({
  kind: 'compare',
  left,
  operator,
  right,
});
const sql = (condition: Condition) => conditionToSql(tables, 'quay_berths', 'b', condition);

describe('a condition in SQL', () => {
  test('binds every constant in its place, and writes nothing that somebody typed into the text', () => {
    const typed = fc
      .oneof(fc.string(), fc.constantFrom("'; DROP TABLE data.quay_berths; --", '?', '"', '$1'))
      .filter((one) => one !== '');
    const leaf = fc.oneof(
      fc.tuple(fc.constantFrom('number', 'next.number'), fc.constantFrom<Binary>('is', 'less', 'atLeast'), typed),
      fc.tuple(
        fc.constantFrom('longest', 'places', 'next.next.longest'),
        fc.constantFrom<Binary>('isNot', 'more'),
        fc.integer(),
      ),
      fc.tuple(fc.constantFrom('services', 'next.services'), fc.constantFrom<Binary>('has', 'hasNot'), typed),
    );
    const group = fc.tuple(
      fc.constantFrom('all' as const, 'any' as const, 'none' as const),
      fc.array(leaf, { maxLength: 4 }),
    );
    fc.assert(
      fc.property(fc.array(group, { maxLength: 3 }), (groups) => {
        const condition = all(
          ...groups.map(
            ([match, of]): Condition => ({
              kind: 'group',
              match,
              of: of.map(([path, operator, value]) => compare(column(path), operator, constant(value))),
            }),
          ),
        );
        const { text, values } = sql(condition);
        expect(text.split('?').length - 1).toBe(values.length);
        expect(values.map(String)).toEqual(groups.flatMap(([, of]) => of.map(([, , value]) => String(value))));
        expect(text).toMatch(/^[a-z0-9_."?: ,()<>=A-Z[\]]*$/);
      }),
    );
  });

  test('reads a link through its table, and a blank one as blank beyond it', () => {
    expect(sql(compare(column('next.number'), 'is', constant('A-1')))).toEqual({
      text: 'b."next" IN (SELECT b_next.id FROM "data"."quay_berths" b_next WHERE b_next."number" = ?::text)',
      values: ['A-1'],
    });
    expect(sql({ kind: 'compare', left: column('next.number'), operator: 'isBlank' }).text).toMatch(
      /^\(b\."next" IS NULL OR /,
    );
  });

  test('turns a comparison round that begins with the constant', () => {
    for (const [operator, turned] of [
      ['less', 'more'],
      ['atMost', 'atLeast'],
      ['is', 'is'],
    ] as const)
      expect(sql(compare(constant(8), operator, column('longest')))).toEqual(
        sql(compare(column('longest'), turned, constant(8))),
      );
  });

  test('that reads no column is the same for every record', () => {
    expect(sql(compare(constant('x'), 'is', constant('x')))).toEqual({ text: 'TRUE', values: [] });
    expect(sql(compare(constant(3), 'less', constant(2)))).toEqual({ text: 'FALSE', values: [] });
  });

  test('of values that can never meet holds for nothing, instead of failing', () => {
    expect(sql(compare(column('longest'), 'is', constant('long'))).text).toBe('FALSE');
    expect(sql(compare(column('opened'), 'is', constant('tomorrow'))).text).toBe('FALSE');
    expect(sql(compare(column('number'), 'has', constant('A'))).text).toBe('FALSE');
    expect(sql(compare(column('number'), 'is', column('longest'))).text).toBe('FALSE');
  });

  test('is refused with what is wrong where the form was not put in, or a column is not there', () => {
    expect(() => sql(compare(column('number'), 'is', { kind: 'form', path: 'note' }))).toThrow('left unresolved: form');
    expect(() => sql(compare({ kind: 'account' }, 'is', column('number')))).toThrow('left unresolved: account');
    expect(() => sql(compare(column('gone'), 'is', constant('x')))).toThrow('No such column');
    expect(() => sql(compare(column('number.letter'), 'is', constant('x')))).toThrow('is not a column');
  });

  test('reads who added a record as a text', () => {
    expect(sql(compare(column('created_by'), 'is', constant('quayclerk')))).toEqual({
      text: 'b."created_by" = ?::text',
      values: ['quayclerk'],
    });
    expect([isStamp('changed_by'), isStamp('created_at')]).toEqual([true, false]);
  });
});

describe('what stands in the text itself', () => {
  test('an identifier is one, or it is refused', () => {
    expect(quoted('quay_berths')).toBe('"quay_berths"');
    for (const id of ['', 'Quay', '1st', 'a"b', 'a b', 'ä', `a${'b'.repeat(63)}`])
      expect(() => quoted(id), id).toThrow('Not an identifier');
  });

  test('a value keeps no sign that could end it, and places and values must match', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (value) => {
        const text = inlined({ text: 'x = ?', values: [value] });
        expect(text).toMatch(/^x = E'[A-Za-z0-9 \\]*'$/);
        const read = text
          .slice(6, -1)
          .replace(/\\U([0-9a-f]{8})/g, (_all, code: string) => String.fromCodePoint(Number.parseInt(code, 16)));
        expect(read).toBe(value);
      }),
    );
    expect(inlined({ text: 'a = ? AND b = ? AND c = ?', values: [null, true, 4] })).toBe(
      "a = NULL AND b = 'true' AND c = '4'",
    );
    expect(() => inlined({ text: 'a = ?', values: [] })).toThrow('differ in number');
  });
});

describe('the tables as somebody sees them', () => {
  const few = { ...berths, fields: berths.fields.slice(0, 1) };
  const seen = new SeenTables(new Map([[berths.id, few]]), tables, new Map([[berths.id, 's.id < 3']]));

  test('are read within their limit', () => {
    expect(recordsOf(tables, 'quay_berths')).toBe('"data"."quay_berths"');
    expect(recordsOf(seen, 'quay_berths')).toBe('(SELECT s.* FROM "data"."quay_berths" s WHERE s.id < 3)');
    expect(sql(compare(column('next.number'), 'is', constant('x'))).text).toContain(relation('quay_berths'));
    const limited = conditionToSql(
      seen.withDefinitions(tables),
      'quay_berths',
      'b',
      compare(column('next.number'), 'is', constant('x')),
    );
    expect(limited.text).toContain('s.id < 3');
  });

  test('tell whether that is all there is', () => {
    expect([isLimited(seen, 'quay_berths'), isLimited(tables, 'quay_berths')]).toEqual([true, false]);
    expect([seesAllOf(seen, 'quay_berths'), seesAllOf(tables, 'quay_berths')]).toEqual([false, true]);
    const whole = new SeenTables(tables, tables, new Map());
    expect(seesAllOf(whole, 'quay_berths')).toBe(true);
    expect(wholeTable(seen, few)).toBe(berths);
    expect(wholeTable(tables, few)).toBe(few);
  });

  test('of the past are read from their source, whose records are within the limit already', () => {
    const past = seen.withSource('quay_berths', '(SELECT 1) p');
    expect(recordsOf(past, 'quay_berths')).toBe('(SELECT 1) p');
    expect([isPast(past, 'quay_berths'), isPast(seen, 'quay_berths')]).toEqual([true, false]);
    expect(isPast(past.withDefinitions(tables), 'quay_berths')).toBe(true);
  });
});
