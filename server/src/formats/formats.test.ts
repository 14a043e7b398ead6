import { cellText, isRecord, jsonRecords, readJson, xmlLists } from '@fiche/core/imports';
import { parse } from 'csv-parse/sync';
import fc from 'fast-check';
import readSheets from 'read-excel-file/node';
import { describe, expect, test } from 'vitest';
import type { FileCell, FileColumn, FileRow, Holds } from './format.ts';
import { cellAsText, FORMATS } from './index.ts';

/** A file as its reader gets it. */
async function written(
  format: keyof typeof FORMATS,
  columns: readonly FileColumn[],
  rows: readonly FileRow[],
  period?: object,
) {
  async function* pages(): AsyncGenerator<readonly FileRow[]> {
    for (let at = 0; at < rows.length; at += 2) yield rows.slice(at, at + 2);
  }
  const head = { title: 'Stays & [more]', columns, period: period as never };
  const parts: Buffer[] = [];
  for await (const part of FORMATS[format].write(head, pages())) parts.push(Buffer.from(part as string));
  return Buffer.concat(parts);
}

const HOLDS: readonly Holds[] = ['text', 'number', 'yesNo', 'date', 'time', 'dateTime', 'list'];
const columns: FileColumn[] = HOLDS.map((holds, at) => ({ key: `column_${at}`, label: `Column ${at}`, holds }));
const pad = (n: number): string => String(n).padStart(2, '0');
const date = fc.record({
  y: fc.integer({ min: 1901, max: 9998 }),
  m: fc.integer({ min: 1, max: 12 }),
  d: fc.integer({ min: 1, max: 28 }),
});
const day = date.map(({ y, m, d }) => `${y}-${pad(m)}-${pad(d)}`);
const time = fc
  .record({ h: fc.integer({ min: 0, max: 23 }), m: fc.integer({ min: 0, max: 59 }) })
  .map(({ h, m }) => `${pad(h)}:${pad(m)}`);
/** Texts as fields hold them: trimmed, with what files have trouble with. */
const text = fc
  .array(
    fc.constantFrom(
      'a',
      '1',
      '=',
      '+',
      '＝',
      '-',
      '@',
      '\n',
      ',',
      ';',
      '"',
      "'",
      '<',
      '&',
      ']]>',
      '_x0041_',
      ' ',
      'ü',
      '😀',
    ),
    { minLength: 1, maxLength: 6 },
  )
  .map((parts) => parts.join('').trim())
  .filter((one) => one !== '');
const CELLS: Record<Holds, fc.Arbitrary<FileCell>> = {
  text,
  number: fc.double({ min: -1e9, max: 1e9, noNaN: true }).map((n) => Number(n.toFixed(4)) + 0),
  yesNo: fc.boolean(),
  date: day,
  time,
  dateTime: fc
    .tuple(
      day,
      time.filter((one) => one !== '00:00'),
    )
    .map(([d, t]) => `${d}T${t}`),
  list: fc.array(text, { minLength: 1, maxLength: 3 }),
};
const row: fc.Arbitrary<FileRow> = fc
  .tuple(...HOLDS.map((holds) => fc.option(CELLS[holds], { nil: null, freq: 4 })))
  // A row without anything is none to whoever reads a workbook.
  .filter((cells) => cells.some((cell) => cell !== null))
  .map((cells) => ({ id: 1, title: 'one', changedAt: '2027-03-01T10:15:00Z', cells }));
const rowsOf = fc.array(row, { maxLength: 5 });
/** What an import reads of a cell, however its file says it. */
const asText = ({ cells }: FileRow): string[] => HOLDS.map((holds, at) => cellAsText(cells[at] ?? null, holds));
const labels = columns.map((column) => column.label);

describe('what is written is read back the same, whatever stands in it', () => {
  const holds = (format: keyof typeof FORMATS, read: (file: Buffer) => Promise<string[][]> | string[][]) =>
    fc.assert(
      fc.asyncProperty(rowsOf, async (rows) => {
        expect(await read(await written(format, columns, rows))).toEqual(rows.map(asText));
      }),
      { numRuns: 60 },
    );

  test('CSV', () =>
    holds('csv', (file) => {
      const [names, ...rows] = parse(file, { bom: true }) as string[][];
      expect(names).toEqual(labels);
      return rows.map((cells) => cells.map((cell) => cell.replace(/^'(?=[=+\-@\t\r'＝＋－＠])/, '')));
    }));

  test('a workbook, with numbers and dates as such', () =>
    holds('xlsx', async (file) => {
      const [sheet] = (await readSheets(file)) as unknown as { sheet: string; data: unknown[][] }[];
      expect(sheet?.sheet).toBe('Stays &  more');
      const [names, ...rows] = sheet?.data ?? [];
      expect(names).toEqual(labels);
      // A time alone is a fraction of a day; blank rows at the end are no rows to a spreadsheet.
      return rows.map((cells) =>
        HOLDS.map((kind, at) => (kind === 'time' ? timeOf(cells[at]) : spaced(cellText(cells[at]), kind))),
      );
    }));

  test('XML, whose blanks are left out', () =>
    holds('xml', (file) => {
      const text = file.toString();
      // Without any record there is no list.
      if (!text.includes('<record>')) return [];
      const [list] = xmlLists(text);
      return (list?.records ?? []).map((record) =>
        columns.map(({ key, holds: kind }) => spaced(record[key] ?? '', kind)),
      );
    }));

  test.each(['json', 'jsonl'] as const)('%s', (format) =>
    holds(format, (file) => {
      const json = file.toString();
      const records =
        format === 'json' ? (jsonRecords(readJson(json)) ?? []) : json.split('\n').filter(Boolean).map(readJson);
      return records
        .filter(isRecord)
        .map((record) => columns.map(({ key, holds: kind }) => spaced(cellText(record[key]), kind)));
    }),
  );
});

/** A date and time as texts have it, with a space between them. */
const spaced = (text: string, kind: Holds): string => (kind === 'dateTime' ? text.replace('T', ' ') : text);

function timeOf(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  const minutes =
    cell instanceof Date ? cell.getUTCHours() * 60 + cell.getUTCMinutes() : Math.round(Number(cell) * 1_440);
  return `${pad(Math.floor(minutes / 60))}:${pad(minutes % 60)}`;
}

test('a text that could be taken for a formula is marked in CSV, with full-width signs too, and is a text in a workbook', async () => {
  const one = (cell: FileCell): FileRow => ({ id: 1, title: '', changedAt: '2027-03-01T10:15:00Z', cells: [cell] });
  const [column] = columns as [FileColumn];
  const rows = ['=1+1', '＝1+1', '@x', '-3', 'plain'].map(one);
  expect((await written('csv', [column], rows)).toString().trim().split('\r\n').slice(1)).toEqual([
    "'=1+1",
    "'＝1+1",
    "'@x",
    "'-3",
    'plain',
  ]);
  const { unzipSync, strFromU8 } = await import('fflate');
  const sheet = strFromU8(unzipSync(await written('xlsx', [column], rows))['xl/worksheets/sheet1.xml'] as Uint8Array);
  expect(sheet).not.toContain('<f>');
  expect(sheet).toContain('t="inlineStr"');
});

test('a text longer than a cell of a workbook can be says that it was cut, whatever letter the cut falls on', async () => {
  const [column] = columns as [FileColumn];
  const row = (cell: string): FileRow => ({ id: 1, title: '', changedAt: '2027-03-01T10:15:00Z', cells: [cell] });
  const file = await written(
    'xlsx',
    [column],
    ['a', '😀', `x${'😀'}`].map((one) => row(one.repeat(20_000))),
  );
  const [sheet] = (await readSheets(file)) as unknown as { data: unknown[][] }[];
  const cells = sheet?.data.slice(1).map(([cell]) => String(cell)) ?? [];
  expect(cells[0]).toBe('a'.repeat(20_000));
  for (const cell of cells.slice(1)) {
    expect(cell).toHaveLength(32_767);
    expect(cell).toMatch(/… \(cut: longer than a cell of a workbook can be\)$/);
  }
});

test('a workbook of more rows than a sheet can have goes on in a second sheet, with the names again', async () => {
  const [column] = columns as [FileColumn];
  const row: FileRow = { id: 1, title: '', changedAt: '2027-03-01T10:15:00Z', cells: [7] };
  const page = Array.from({ length: 8_192 }, () => row);
  async function* pages(): AsyncGenerator<readonly FileRow[]> {
    for (let at = 0; at < 128; at++) yield page;
  }
  const parts: Uint8Array[] = [];
  for await (const part of FORMATS.xlsx.write({ title: 'Stays', columns: [column] }, pages()))
    parts.push(part as Uint8Array);
  const { unzipSync, strFromU8 } = await import('fflate');
  const sheetsOf = (name: string): boolean => name.startsWith('xl/worksheets/') || name === 'xl/workbook.xml';
  const files = unzipSync(Buffer.concat(parts), { filter: ({ name }) => sheetsOf(name) });
  expect(strFromU8(files['xl/workbook.xml'] as Uint8Array)).toContain('name="Stays 2"');
  // 1,048,576 rows fit with the names among them: one record is left for the second sheet.
  expect(
    Buffer.from(files['xl/worksheets/sheet1.xml'] as Uint8Array)
      .toString()
      .match(/<row /g),
  ).toHaveLength(1_048_576);
  expect(strFromU8(files['xl/worksheets/sheet2.xml'] as Uint8Array).match(/<row /g)).toHaveLength(2);
});

test('a calendar has an event for each record with a date: whole days to the day after, times as instants', async () => {
  const dates: FileColumn[] = [
    { key: 'arrival', label: 'Arrival', holds: 'date' },
    { key: 'departure', label: 'Departure', holds: 'date' },
    { key: 'note', label: 'Note', holds: 'text' },
  ];
  const record = (id: number, cells: FileCell[]): FileRow => ({
    id,
    title: `Stay ${id}`,
    changedAt: '2027-03-01T10:15:00Z',
    cells,
  });
  const rows = [
    record(1, ['2027-03-27', '2027-03-29', 'long; note, with\nlines']),
    record(2, [null, '2027-03-29', null]),
    record(3, ['2027-03-27', '2027-03-20', null]),
  ];
  const file = (await written('ics', dates, rows, { begins: 0, ends: 1 })).toString();
  expect(file.startsWith('BEGIN:VCALENDAR\r\n')).toBe(true);
  expect(file.trimEnd().endsWith('END:VCALENDAR')).toBe(true);
  expect(file.match(/BEGIN:VEVENT/g)).toHaveLength(2);
  expect(file).toContain('DTSTART;VALUE=DATE:20270327\r\nDTEND;VALUE=DATE:20270330');
  expect(file).toContain('SUMMARY:Stay 1');
  expect(file.split('\r\n').every((line) => Buffer.byteLength(line) <= 75)).toBe(true);
  const timed = dates.map((column) => (column.holds === 'date' ? { ...column, holds: 'dateTime' as const } : column));
  const moments = [record(1, ['2027-03-27T10:00', '2027-03-27T12:30', null])];
  expect((await written('ics', timed, moments, { begins: 0, ends: 1 })).toString()).toMatch(/DTSTART:\d{8}T\d{6}Z/);
  expect((await written('ics', dates, [], { begins: 0, ends: 1 })).toString()).toMatch(
    /^BEGIN:VCALENDAR[\s\S]*END:VCALENDAR\s*$/,
  );
});
