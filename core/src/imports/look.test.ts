import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { fieldType } from '../fields/index.ts';
import {
  BrokenJson,
  cellText,
  FileLook,
  findHeader,
  inferColumn,
  jsonRecords,
  readCell,
  readJson,
  sniffKind,
} from './index.ts';

const how = { dates: 'dayFirst', decimal: '.' } as const;
const read = (type: string, cell: string, settings: Record<string, unknown> = {}, reading: object = {}) => {
  const found = readCell({ type, settings: fieldType(type).settingsSchema.parse(settings) }, cell, {
    ...how,
    ...reading,
  });
  return found.ok ? found.value : found.message;
};

describe('a cell as text', () => {
  test('every minute of a day comes back from the share of a day that a spreadsheet keeps', () => {
    for (let minute = 0; minute < 1_440; minute++) {
      const time = `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;
      const serial = 46_251 + minute / 1_440;
      const moment = new Date(Date.UTC(1899, 11, 30) + serial * 86_400_000);
      expect(cellText(moment)).toBe(minute === 0 ? '2026-08-17' : `2026-08-17T${time}`);
      expect(read('time', String(minute / 1_440))).toBe(time);
    }
  });

  test('numbers lose the remainders of binary fractions, and no digit else', () => {
    expect([0.1 + 0.2, 1e21, 12.5, 1e-7, -3].map(cellText)).toEqual(['0.3', '1e+21', '12.5', '0.0000001', '-3']);
    const json = readJson(
      '[12345678901234567890, 0.30000000000000004, 1e400, 1.5e3, true, null, {"a": 12345678901234567890}]',
    );
    expect((json as unknown[]).slice(0, 6).map(cellText)).toEqual([
      '12345678901234567890',
      '0.3',
      '1e400',
      '1500',
      'yes',
      '',
    ]);
    expect(cellText(readJson('{"a": 12345678901234567890}'))).toBe('{"a":12345678901234567890}');
    expect(read('decimal', '1e400', { places: 2 })).toContain('number');
    fc.assert(fc.property(fc.bigInt(), (whole) => cellText(readJson(String(whole))) === String(whole)));
  });

  test('JSON that breaks says where; records are found in it wherever they stand', () => {
    expect(() => readJson('[{"a": 1},\n {"a": oops}]')).toThrow(new BrokenJson(2, 8));
    expect(jsonRecords(readJson('{"tags": ["x"], "items": [{"a": "1"}, {"a": "2"}]}'))).toHaveLength(2);
    expect(jsonRecords(readJson('{"name": "Quay", "tags": ["x"]}'))).toEqual([{ name: 'Quay', tags: ['x'] }]);
    const line = '{"items": [{"a": 1}, {"a": 2}]}';
    expect(sniffKind(new TextEncoder().encode(line), line)).toEqual({ kind: 'json' });
    expect(sniffKind(new TextEncoder().encode(line), `${line}\n${line}`)).toEqual({ kind: 'jsonl' });
  });
});

describe('what a column holds', () => {
  test.each([
    ['a code with a zero in front among numbers', ['08123', '18124', '99310'], 'text'],
    ['numbers of five digits', ['38123', '38124', '39310'], 'wholeNumber'],
    ['eight digits that are all days', ['20260817', '20251231', '20260101'], 'date'],
    ['eight digits of which one is no day', ['20260817', '20251231', '20261301'], 'wholeNumber'],
    ['days of a spreadsheet', ['2026-08-17T00:00', '2026-08-18T00:00'], 'date'],
    ['days with marks', ['17.8.2026', '18.8.2026'], 'date'],
    ['a moment', ['17.8.2026 14:30', '18.8.2026 15:00'], 'dateTime'],
  ])('%s: %j', (_what, cells, type) => {
    expect(inferColumn(cells).type).toBe(type);
  });

  test('a comma after a zero is a decimal mark, whatever the column has; one that could be either is asked about', () => {
    for (const decimal of ['.', ',']) {
      expect(read('decimal', '0,500', { places: 3 }, { decimal })).toBe(0.5);
      expect(read('decimal', '0.500', { places: 3 }, { decimal })).toBe(0.5);
      expect(read('decimal', '12,5', { places: 3 }, { decimal })).toBe(12.5);
      expect(read('decimal', '1.234,50', { places: 3 }, { decimal: ',' })).toBe(1234.5);
    }
    expect(read('decimal', '1,234', { places: 3 }, { decimal: ',' })).toBe(1.234);
    expect(read('decimal', '1,234', { places: 3 }, { decimal: '.' })).toBe(1234);
    expect(inferColumn(['1,234', '2,500']).eitherMark).toBe(true);
    expect(inferColumn(['1,234', '0,500'])).toMatchObject({ eitherMark: false, decimal: ',' });
    expect(read('time', '23:59:60')).toContain('Type a time');
  });

  test('what only all rows show counts: the twenty-fifth word, a code, a blank cell far down', () => {
    const look = new FileLook();
    const rows = 50_000;
    for (let n = 0; n < rows; n++)
      look.add([
        n < 40_000 ? `Kind ${n % 3}` : `Kind ${n % 40}`,
        n === 49_999 ? '01234' : String(10_000 + (n % 90_000)),
        n === 33_333 ? '' : 'x y',
        n === 44_444 ? '13/02/2026' : '01/02/2026',
      ]);
    const [kinds, codes, words, days] = look.seen(4).map((column) => inferColumn(column.cells, column));
    expect([kinds?.type, codes?.type, words?.required]).toEqual(['text', 'text', false]);
    expect(days).toMatchObject({ type: 'date', dates: 'dayFirst', ambiguous: false });
    expect(look.seen(0)[0]?.cells.length).toBeLessThanOrEqual(4_001);
  });

  test('a row of names with a doubled or a blank one is still the row of names', () => {
    expect(
      findHeader([
        ['Name', 'Remark', 'Remark'],
        ['A-1', 'dry', 'north'],
        ['A-2', 'wet', 'south'],
      ]),
    ).toBe(0);
    expect(
      findHeader([
        ['Name', '', 'Remark', 'Side'],
        ['Quay A', 'x', 'dry', 'north'],
        ['Quay B', 'y', 'wet', 'south'],
      ]),
    ).toBe(0);
  });
});
