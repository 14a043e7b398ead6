import { expect, test } from 'vitest';
import { type FieldDefinition, newFieldSchema } from '../tables/index.ts';
import { readExpression } from './expression.ts';

const field = (id: string, type: string): FieldDefinition => ({
  ...newFieldSchema.parse({ label: id, type, settings: {} }),
  id,
});
const fields = [
  field('quantity', 'wholeNumber'),
  field('rate', 'decimal'),
  field('name', 'text'),
  field('arrival', 'date'),
];
const evaluate = (source: string, values: Record<string, string | number | null>) => {
  const read = readExpression(source, fields);
  if ('wrong' in read) throw new Error(read.wrong);
  return read.expression.evaluate((path) => values[path] ?? null, '2026-08-17T09:30');
};

test.each([
  ['quantity * 2', { quantity: 3 }, 6],
  ['2 * quantity * rate', { quantity: 3, rate: 1.5 }, 9],
  ['name + " of " + arrival', { name: 'A-1', arrival: '2026-08-17' }, 'A-1 of 2026-08-17'],
  ['quantity > 2.0 ? "many" : "few"', { quantity: 3 }, 'many'],
  ['quantity > 2 && rate <= 4', { quantity: 3, rate: 1.5 }, true],
  ['rate * 2', { rate: null }, null],
  ['arrival < "2026-09-01"', { arrival: '2026-08-17' }, true],
])('%s', (source, values, expected) => {
  expect(evaluate(source, values as unknown as Record<string, number>)).toEqual(expected);
});

test.each(['quantity *', 'nothing + 1', 'name * 2', 'quantity + "x"'])('refuses %s in words', (source) => {
  expect(readExpression(source, fields)).toMatchObject({ wrong: expect.stringContaining('cannot be read') });
});

test('names the fields that it reads', () => {
  const read = readExpression('quantity * rate', fields);
  expect('expression' in read && read.expression.reads).toEqual(['quantity', 'rate']);
});
