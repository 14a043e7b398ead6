import { describe, expect, test } from 'vitest';
import type { Value } from '../fields/index.ts';
import { newFieldSchema, type TableDefinition } from '../tables/index.ts';
import { findHeader, inferColumn, matchColumns, readCell, sniffEncoding, sniffKind, sniffSeparator } from './index.ts';

const bytes = (text: string) => new TextEncoder().encode(text);

describe('a file is found out by looking', () => {
  test.each([
    ['UTF-8 with its mark', [0xef, 0xbb, 0xbf, 0x41], 'utf-8'],
    ['UTF-16 with its mark', [0xff, 0xfe, 0x41, 0], 'utf-16le'],
    ['UTF-16 without', [...'Harbour;Name'].flatMap((c) => [c.charCodeAt(0), 0]), 'utf-16le'],
    ['plain UTF-8', [...bytes('Größe')], 'utf-8'],
    ['UTF-8 cut inside a letter', [...bytes('Größe')].slice(0, 3), 'utf-8'],
    ['Windows-1252', [0x47, 0x72, 0xf6, 0xdf, 0x65], 'windows-1252'],
  ] as const)('%s', (_what, data, encoding) => {
    expect(sniffEncoding(Uint8Array.from(data))).toBe(encoding);
  });

  test.each([
    ['a,b\n1,2', ','],
    ['a;b\n1,5;2,5\n3,5;4,5', ';'],
    ['a\tb\n1\t2', '\t'],
    ['name|note\nA|"x|y,z"\nB|c', '|'],
    ['"a;b;c",d\n"e;f",g', ','],
    ['one column\nonly', ','],
  ])('the separator of %j is %j', (text, separator) => {
    expect(sniffSeparator(text)).toBe(separator);
  });

  test.each([
    ['a,b\n1,2', { kind: 'csv' }],
    ['[{"a":1}]', { kind: 'json' }],
    ['{"a":1}\n{"a":2}\n', { kind: 'jsonl' }],
    ['{\n "rows": []\n}', { kind: 'json' }],
    ['PK\u0003\u0004…', { kind: 'xlsx' }],
    ['%PDF-1.7', { wrong: expect.stringContaining('PDF') }],
    ['', { wrong: expect.stringContaining('empty') }],
    [' \n', { wrong: expect.stringContaining('empty') }],
    ['a\u0001b', { wrong: expect.stringContaining('not a text') }],
  ])('%j', (text, kind) => {
    expect(sniffKind(bytes(text), text)).toEqual(kind);
  });

  test('the row of names stands below titles', () => {
    expect(
      findHeader([
        ['Berths of Gannet Quay', '', ''],
        ['', '', ''],
        ['Number', 'Pontoon', 'Length'],
        ['A-1', 'A', '8'],
      ]),
    ).toBe(2);
    expect(
      findHeader([
        ['a', 'b'],
        ['1', '2'],
      ]),
    ).toBe(0);
  });
});

describe('a column is taken for what its cells are', () => {
  test.each([
    [['12', '1,234', ''], { type: 'wholeNumber', required: false }],
    [['12.5', '3'], { type: 'decimal', settings: { places: 1 } }],
    [['1.234,50', '12,5'], { type: 'decimal', decimal: ',', settings: { places: 2 } }],
    [['0421', '0007'], { type: 'text' }],
    [['17/8/2026', '3/9/2026'], { type: 'date', dates: 'dayFirst', ambiguous: false }],
    [['8/17/2026', '9/3/2026'], { type: 'date', dates: 'monthFirst', ambiguous: false }],
    [['3/4/2026', '5/6/2026'], { type: 'date', ambiguous: true }],
    [['17.08.2026 15:30', '3.9.2026 9:05'], { type: 'dateTime' }],
    [['yes', 'no', 'yes'], { type: 'yesNo' }],
    [['15:30', '9:05'], { type: 'time' }],
    [['12 %', '50%'], { type: 'percent' }],
    [['quay@gannet.example'], { type: 'email' }],
    [
      Array.from({ length: 12 }, (_one, n) => ['Ketch', 'Tender'][n % 2] ?? ''),
      { type: 'choice', settings: { choices: ['Ketch', 'Tender'] } },
    ],
    [['Kittiwake Rose', 'Tystie'], { type: 'text' }],
    [['17/8/2026', '31/2/2026', '1/9/2026', '2/9/2026', '3/9/2026'], { type: 'date' }],
    [['17/8/2026', 'soon'], { type: 'text' }],
    [['', ''], { type: 'text', required: false }],
  ])('%j', (cells, guess) => {
    expect(inferColumn(cells)).toMatchObject(guess);
  });
});

describe('a cell', () => {
  const how = { dates: 'dayFirst', decimal: '.' } as const;
  test.each([
    ['wholeNumber', '1,234', how, 1234],
    ['decimal', '1.234,50', { ...how, decimal: ',' }, 1234.5],
    ['decimal', '€ 12.50', how, 12.5],
    ['date', '3/4/2026', how, '2026-04-03'],
    ['date', '3/4/2026', { ...how, dates: 'monthFirst' }, '2026-03-04'],
    ['date', '46251', how, '2026-08-17'],
    ['date', '2026-08-17T00:00', how, '2026-08-17'],
    ['dateTime', '2026-08-17T15:30:00.000Z', how, '2026-08-17T15:30'],
    ['dateTime', '46251.645833333', how, '2026-08-17T15:30'],
    ['dateTime', '17/8/2026', how, '2026-08-17T00:00'],
    ['time', '0.5', how, '12:00'],
    ['yesNo', 'x', how, true],
    ['text', "'=SUM(A1)", how, '=SUM(A1)'],
    ['text', '', how, null],
  ] as [string, string, typeof how, Value][])('of a %s, %j', (type, cell, reading, value) => {
    const settings = newFieldSchema.parse({ label: 'x', type, settings: {} }).settings;
    expect(readCell({ type, settings }, cell, reading)).toEqual({ ok: true, value });
  });
});

test('columns find their fields by label, by part of it, and by what they hold', () => {
  const field = (id: string, label: string, type: string) => ({ ...newFieldSchema.parse({ label, type }), id });
  const table = {
    fields: [
      field('name', 'Name', 'text'),
      field('longest_vessel', 'Longest vessel', 'decimal'),
      field('e_mail', 'E-mail', 'email'),
    ],
  } as unknown as TableDefinition;
  const column = (name: string, cells: string[]) => ({ name, cells, guess: inferColumn(cells) });
  const found = matchColumns(
    [
      column('Longest', ['8', '9']),
      column('NAME', ['A', 'B']),
      column('write to', ['a@b.example', 'c@d.example', 'e@f.example']),
      column('Reason', ['x']),
    ],
    table,
  );
  expect(found.map((one) => one?.id)).toEqual(['longest_vessel', 'name', 'e_mail', undefined]);
});

test.each([
  ['CHF 1.234,50', ',', 1234.5],
  ['-1’234.50 chf', '.', -1234.5],
  ['1,234.50', '.', 1234.5],
])('the amount %s of a file with the decimal mark %s is %d', (cell, decimal, value) => {
  const amount = { type: 'amount', settings: { currency: 'CHF', places: 2, rounding: 'halfUp' } };
  expect(readCell(amount, cell, { dates: 'dayFirst', decimal: decimal as '.' | ',' })).toEqual({ ok: true, value });
});
