import { pipeline, Readable } from 'node:stream';
import { BrokenJson, CSV_PARSING, cellText, isRecord, type Reading, readJson } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { parse } from 'csv-parse';
import { Refusal } from '../http/index.ts';
import { jsonRecords, workbookRows, xmlRecords } from '../unpacking/index.ts';

/** A row of a file: its number as a person counts it, from 1, and its cells as text. */
export interface FileRow {
  readonly number: number;
  readonly cells: readonly string[];
  /** The places of cells with characters that no text can hold; they stand there in a form that can be shown. */
  readonly unsound?: readonly number[];
}

const COLUMNS_MOST = 1_500;
const RECORD_MOST = 4 * 1024 * 1024;
const JSON_MOST = 120 * 1024 * 1024;

/** The rows of a file in order, the row of names first. Reads as it goes; throws a Refusal that says where it fails. */
export async function* rowsOf(parts: AsyncIterable<Buffer>, reading: Reading): AsyncGenerator<FileRow> {
  for await (const row of rawRows(parts, reading)) {
    const unsound = row.cells.flatMap((cell, at) => (isSound(cell) ? [] : [at]));
    yield unsound.length === 0 ? row : { ...row, cells: row.cells.map(shown), unsound };
  }
}

const isSound = (cell: string): boolean => !cell.includes('\0') && cell.isWellFormed();
const shown = (cell: string): string => cell.replaceAll('\0', '␀').toWellFormed();

function rawRows(parts: AsyncIterable<Buffer>, reading: Reading): AsyncIterable<FileRow> {
  switch (reading.kind) {
    case 'csv':
      return csvRows(parts, reading);
    case 'xlsx':
      return sheetRows(parts, reading);
    case 'json':
    case 'jsonl':
    case 'xml':
      return namedRows(parts, reading);
  }
}

async function* decoded(parts: AsyncIterable<Buffer>, encoding: string): AsyncGenerator<string> {
  const decoder = new TextDecoder(encoding);
  for await (const part of parts) yield decoder.decode(part, { stream: true });
  yield decoder.decode();
}

async function* csvRows(
  parts: AsyncIterable<Buffer>,
  { encoding, separator, header }: Reading,
): AsyncGenerator<FileRow> {
  const parser = parse({
    ...CSV_PARSING,
    delimiter: separator,
    skip_empty_lines: false,
    max_record_size: RECORD_MOST,
    info: true,
  });
  // What fails before the parser, as when the database goes while the file is read from it, ends the parser, too.
  pipeline(Readable.from(decoded(parts, encoding)), parser, () => undefined);
  let number = 0;
  try {
    for await (const entry of parser as AsyncIterable<{ record: string[]; info: { lines: number } }>) {
      number++;
      if (number <= header) continue;
      const cells = entry.record;
      if (cells.every((cell) => cell === '')) continue;
      checkWidth(cells, number);
      yield { number, cells };
    }
  } catch (error) {
    if (error instanceof Refusal) throw error;
    const code = (error as { code?: string }).code;
    if (!code?.startsWith('CSV_')) throw error;
    throw new Refusal(
      422,
      code === 'CSV_QUOTE_NOT_CLOSED'
        ? say(
            'A quotation mark is opened after row {number} and never closed. Is the file complete? Close the quotation, or remove it, and send the file again.',
            { number },
          )
        : code === 'CSV_MAX_RECORD_SIZE'
          ? say('Row {number} is longer than {recordMost} MB: a quotation mark before it is probably not closed.', {
              number: number + 1,
              recordMost: RECORD_MOST / 1024 / 1024,
            })
          : say('Row {number} cannot be read. Look at its quotation marks and separators.', { number: number + 1 }),
    );
  }
}

function checkWidth(cells: readonly unknown[], number: number): void {
  if (cells.length > COLUMNS_MOST)
    throw new Refusal(
      422,
      say(
        'Row {number} has {count} columns; at most {columnsMost} fit in one table. Remove columns, or choose another separator.',
        { number, count: formatCount(cells.length), columnsMost: formatCount(COLUMNS_MOST) },
      ),
    );
}

async function whole(parts: AsyncIterable<Buffer>, most: number, what: string): Promise<Buffer> {
  const all: Buffer[] = [];
  let size = 0;
  for await (const part of parts) {
    size += part.length;
    if (size > most)
      throw new Refusal(
        422,
        say('{what} of more than {most} MB is not read at once. Save it as CSV or JSON Lines.', {
          what,
          most: most / 1024 / 1024,
        }),
      );
    all.push(part);
  }
  return Buffer.concat(all);
}

async function* sheetRows(parts: AsyncIterable<Buffer>, { sheet, header }: Reading): AsyncGenerator<FileRow> {
  const bytes = await whole(parts, JSON_MOST, 'A workbook');
  let number = 0;
  for await (const row of workbookRows(bytes, sheet)) {
    if (++number <= header) continue;
    const cells = row.map(cellText);
    checkWidth(cells, number);
    if (cells.some((cell) => cell !== '')) yield { number, cells };
  }
}

/** The rows of records with named values: JSON, JSON Lines, XML. */
async function* namedRows(parts: AsyncIterable<Buffer>, { kind, encoding, sheet }: Reading): AsyncGenerator<FileRow> {
  const records =
    kind === 'jsonl'
      ? jsonLines(parts, encoding)
      : kind === 'xml'
        ? xmlRecords(await whole(parts, JSON_MOST, say('An XML file')), encoding, sheet)
        : jsonRecords(await whole(parts, JSON_MOST, say('A JSON file')));
  // Names are known when all records were seen once; they are kept in the order of their first appearance.
  const names: string[] = [];
  const known = new Map<string, number>();
  const kept: { number: number; record: Record<string, unknown> }[] = [];
  let number = 0;
  for await (const record of records) {
    number++;
    if (!isRecord(record))
      throw new Refusal(
        422,
        say('Record {number} is not an object with named values, such as {"Name": "A-1"}.', { number }),
      );
    for (const name of Object.keys(record))
      if (!known.has(name)) {
        known.set(name, names.length);
        names.push(name);
      }
    kept.push({ number, record });
    if (names.length > COLUMNS_MOST) checkWidth(names, number);
  }
  yield { number: 0, cells: names };
  for (const one of kept) yield { number: one.number, cells: names.map((name) => cellText(one.record[name])) };
}

async function* jsonLines(parts: AsyncIterable<Buffer>, encoding: string): AsyncGenerator<unknown> {
  let rest = '';
  let number = 0;
  const read = (line: string): unknown => {
    try {
      return readJson(line);
    } catch (error) {
      throw new Refusal(
        422,
        error instanceof BrokenJson
          ? say(
              'Line {number} is not JSON, from character {column} on. Correct it, or remove it, and send the file again.',
              { number, column: error.column },
            )
          : say('Line {number} is not JSON. Correct it, or remove it, and send the file again.', { number }),
      );
    }
  };
  for await (const text of decoded(parts, encoding)) {
    const lines = (rest + text).split('\n');
    rest = lines.pop() ?? '';
    if (rest.length > RECORD_MOST)
      throw new Refusal(
        422,
        say(
          'Line {number} is longer than {recordMost} MB. Each line must be one record: send a list of records as .json instead.',
          { number: number + 1, recordMost: RECORD_MOST / 1024 / 1024 },
        ),
      );
    for (const line of lines) {
      number++;
      if (line.trim() !== '') yield read(line);
    }
  }
  number++;
  if (rest.trim() !== '') yield read(rest);
}
