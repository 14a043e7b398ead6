import { describe, expect, test } from 'vitest';
import { tableOf } from '../entry/fixtures/harbour.ts';
import type { Value } from '../fields/index.ts';
import { type FieldDefinition, newFieldSchema } from '../tables/index.ts';
import { readExpression } from './expression.ts';
import { giveResult, resultMisfit } from './result.ts';

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

test.each([
  ['quantity *', 'Something is missing at the end.'],
  ['nothing + 1', '“nothing” is not a field or function here.'],
  ['name * 2', 'These do not go together: text * number.'],
  ['quantity.', 'Name a field after the dot.'],
  ['(quantity', 'A closing bracket “)” is missing.'],
  ['quantity)', 'The bracket “)” was never opened.'],
  ['quantity = 2', 'Compare with two equals signs: ==.'],
  ['quantity > 1 and rate > 1', 'Write && for and, || for or, ! for not.'],
  ['quantity rate', 'A sign is missing before “rate”, such as + or *.'],
  ['name == "x', 'A closing quote is missing.'],
])('refuses %s in words', (source, wrong) => {
  expect(readExpression(source, fields)).toMatchObject({ wrong });
});

test('names the fields that it reads', () => {
  const read = readExpression('quantity * rate', fields);
  expect('expression' in read && read.expression.reads).toEqual(['quantity', 'rate']);
});

describe('dates, lists and blanks', () => {
  const berths = tableOf('berths', { longest: ['decimal'], pontoon: ['link', { table: 'pontoons' }] });
  const tables = new Map([berths, tableOf('pontoons', { letter: ['text'] })].map((table) => [table.id, table]));
  const stay = [
    ...fields,
    field('departure', 'dateTime'),
    { ...newFieldSchema.parse({ label: 'berth', type: 'link', settings: { table: 'berths' } }), id: 'berth' },
    field('tags', 'choices'),
  ];
  const known: Record<string, Value> = {
    arrival: '2026-02-27',
    departure: '2026-03-01T08:00',
    quantity: null,
    rate: 1.5,
    berth: 3,
    'berth.longest': 12,
    'berth.pontoon.letter': 'B',
    tags: ['a', 'b'],
  };
  const give = (source: string): Value => {
    const read = readExpression(source, stay, tables);
    if ('wrong' in read) throw new Error(read.wrong);
    return read.expression.evaluate((path) => known[path] ?? null, '2026-08-17T09:30');
  };
  test.each([
    ['days(arrival, departure)', 2],
    ['addDays(arrival, 2)', '2026-03-01'],
    ['addDays(departure, -1)', '2026-02-28T08:00'],
    ['year(arrival) * 100 + month(arrival)', 202_602],
    ['today() + " " + now()', '2026-08-17 2026-08-17T09:30'],
    ['round(rate * 0.67, 2)', 1.01],
    ['count(tags)', 2],
    ['sum([rate, 2.5]) + least([rate, 2.5]) + most([rate, 2.5]) + average([rate, 2.5])', 10],
    ['berth.longest - rate', 10.5],
    ['berth.pontoon.letter + "!"', 'B!'],
    ['quantity * 2', null],
    ['blank(quantity) ? 0.0 : quantity * 2', 0],
    ['blank(quantity) || quantity > 2.0', true],
    ['rate / 0', null],
  ] as const)('%s', (source, expected) => {
    expect(give(source)).toBe(expected);
  });

  test('says where a mistake is', () => {
    expect(readExpression('berth.longer + 1', stay, tables)).toEqual({
      wrong: '“longer” is not a field or function here.',
      at: { start: 6, end: 12 },
    });
    expect(readExpression('rate +', stay, tables)).toMatchObject({
      wrong: expect.stringContaining('missing at the end'),
    });
  });

  test('gives a field what it can hold, at its places, and nothing else', () => {
    const rate = { ...field('rate', 'decimal'), settings: { places: 2 } };
    expect([giveResult(1.005, rate), giveResult(-1.005, rate), giveResult('x', rate)]).toEqual([1.01, -1.01, null]);
    expect(giveResult(7, field('name', 'text'))).toBe('7');
    expect(giveResult('2026-02-31', field('arrival', 'date'))).toBeNull();
    expect(resultMisfit('text', rate)).toBe('rate is a decimal, and this gives text.');
    expect(resultMisfit('number', rate)).toBeUndefined();
  });
});

test.each([
  ['[1].all(a, [1].all(b, [1].all(c, true)))', 'lists within lists within lists'],
  [`[${Array.from({ length: 201 }, (_, n) => n).join(', ')}].exists(a, a == 1)`, 'at most 200 items'],
  [`name == "${'x'.repeat(4_000)}"`, 'at most 4000 characters'],
])('what costs too much at every keystroke is refused where it stands: %s', (source, words) => {
  const read = readExpression(source.slice(0, 5_000), fields);
  expect('wrong' in read ? read.wrong : '').toContain(words);
});

test('matches uses patterns that end in linear time, and finds them anywhere in a text', () => {
  expect(evaluate('name.matches("[A-Z]-[0-9]+")', { name: 'berth A-12, north' })).toBe(true);
  expect(evaluate('name.matches("^[A-Z]$")', { name: 'AB' })).toBe(false);
  expect(evaluate('name.matches("(a+)+$")', { name: `${'a'.repeat(3_000)}!` })).toBe(false);
  // A pattern that cannot be read gives nothing, as a division by zero does.
  expect(evaluate('name.matches("(?=x)")', { name: 'x' })).toBeNull();
});
