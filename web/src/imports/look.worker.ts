import {
  BrokenJson,
  type ColumnGuess,
  CSV_PARSING,
  cellText,
  type FileKind,
  FileLook,
  findHeader,
  inferColumn,
  isRecord,
  jsonRecords,
  type Reading,
  readJson,
  sniffEncoding,
  sniffKind,
  sniffSeparator,
  xmlLists,
} from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { formatCount, type Office, setOffice } from '@fiche/core/office';
import { parse } from 'csv-parse/browser/esm';
import readSheets from 'read-excel-file/web-worker';
import { type OwnLanguage, setOwnLanguage } from '../languages/index.ts';

/** How much of a text file is read at once; the first part tells what it is. */
const LOOKED_AT = 768 * 1024;
/** Among so many rows the row of names is looked for. */
const BEGINNING = 40;
const COLUMNS_MOST = 1_500;
const SHOWN = 6;

/** What is asked of the worker: look at a file, with what a person has said otherwise than proposed. */
export interface LookRequest {
  readonly file: Blob;
  readonly said: Partial<Reading>;
  readonly office: Office;
  readonly language: OwnLanguage;
}

interface LookedColumn {
  readonly name: string;
  readonly at: number;
  readonly samples: readonly string[];
  /** Distinct cells, to find linked records by. */
  readonly words: readonly string[];
  readonly guess: ColumnGuess;
}

export type LookAnswer =
  | { readonly kind: 'progress'; readonly share: number }
  | { readonly kind: 'wrong'; readonly message: string }
  | {
      readonly kind: 'looked';
      readonly reading: Reading;
      readonly sheets: readonly string[];
      /** The first rows as they stand, to choose the row of names by. */
      readonly top: readonly (readonly string[])[];
      readonly columns: readonly LookedColumn[];
    };

const answer = (one: LookAnswer): void => self.postMessage(one);

self.onmessage = async ({ data }: MessageEvent<LookRequest>) => {
  setOffice(data.office);
  await setOwnLanguage(data.language);
  try {
    answer(await look(data));
  } catch (error) {
    answer({ kind: 'wrong', message: (error as Error).message || say('This file cannot be read.') });
  }
};

/** What is read of a file: its rows one by one, once what it is was found by its beginning. */
interface Rows {
  readonly rows: AsyncIterable<readonly string[]> | Iterable<readonly string[]>;
  readonly sheets: readonly string[];
  readonly sheet: number;
  readonly separator: string;
}

async function look({ file, said }: LookRequest): Promise<LookAnswer> {
  const bytes = new Uint8Array(await file.slice(0, LOOKED_AT).arrayBuffer());
  const encoding = said.encoding ?? sniffEncoding(bytes);
  const text = new TextDecoder(encoding).decode(bytes).replace(/^\ufeff/, '');
  const found = sniffKind(bytes, text);
  if ('wrong' in found) return { kind: 'wrong', message: found.wrong };
  const { kind } = found;
  const { rows, sheets, sheet, separator } = await rowsIn(kind, file, text, encoding, said);
  const named = kind === 'json' || kind === 'jsonl' || kind === 'xml';
  const first: (readonly string[])[] = [];
  let header: number | undefined;
  const seen = new FileLook();
  const begin = (): void => {
    header = named ? 0 : Math.min(said.header ?? findHeader(first), first.length - 1);
    for (const row of first.slice(header + 1)) if (row.some((cell) => cell !== '')) seen.add(row);
  };
  for await (const row of rows) {
    if (header !== undefined) {
      if (row.some((cell) => cell !== '')) seen.add(row);
    } else if (first.push(row) === Math.max(BEGINNING, (said.header ?? 0) + 2)) begin();
  }
  if (first.length === 0) return { kind: 'wrong', message: say('This file is empty. Choose one that has rows.') };
  if (header === undefined) begin();
  const reading: Reading = { kind, encoding, separator, sheet, header: header ?? 0 };
  const names = first[header ?? 0] ?? [];
  const columns = seen.seen(names.length);
  if (columns.length > COLUMNS_MOST)
    return {
      kind: 'wrong',
      message: say(
        'This file has {count} columns; at most {columnsMost} fit in one table. Divide it, or choose another separator.',
        { count: formatCount(columns.length), columnsMost: formatCount(COLUMNS_MOST) },
      ),
    };
  const called = distinctNames(
    columns.map((_one, at) => (names[at] ?? '').trim() || say('Column {at}', { at: at + 1 })),
  );
  return {
    kind: 'looked',
    reading,
    sheets,
    top: first.slice(0, 8).map((row) => row.slice(0, 8)),
    columns: columns.map(
      (column, at): LookedColumn => ({
        name: called[at] ?? '',
        at,
        samples: column.cells.filter((cell) => cell !== '').slice(0, SHOWN),
        words: column.words.slice(0, 60).map((word) => word.slice(0, 300)),
        guess: inferColumn(column.cells, column),
      }),
    ),
  };
}

/** Names that occur twice get a number, so that each column can become a field. */
function distinctNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    let called = name;
    for (let n = 2; taken.has(called.toLowerCase()); n++) called = `${name} (${n})`;
    taken.add(called.toLowerCase());
    return called;
  });
}

async function rowsIn(
  kind: FileKind,
  file: Blob,
  beginning: string,
  encoding: string,
  said: Partial<Reading>,
): Promise<Rows> {
  if (kind === 'csv') {
    const separator = said.separator ?? sniffSeparator(beginning);
    return { rows: csvRows(file, encoding, separator), sheets: [], sheet: 1, separator };
  }
  if (kind === 'xlsx') {
    const sheets = await sheetsOf(file);
    const number = said.sheet ?? fullest(sheets.map((one) => one.data));
    const chosen = sheets[number - 1] ?? sheets[0];
    const rows = (chosen?.data ?? []).map((row) => row.map(cellText));
    return { rows, sheets: sheets.map((one) => one.sheet), sheet: number, separator: ',' };
  }
  const text = new TextDecoder(encoding).decode(await file.arrayBuffer());
  if (kind === 'xml') {
    const lists = xmlLists(text);
    const number = Math.min(said.sheet ?? 1, lists.length);
    const sheets = lists.map((list) => `${list.name} (${formatCount(list.records.length)})`);
    return { rows: rowsOfRecords(lists[number - 1]?.records ?? []), sheets, sheet: number, separator: ',' };
  }
  const records =
    kind === 'jsonl'
      ? text.split('\n').flatMap((line, at) => (line.trim() === '' ? [] : [recordOfLine(line, at + 1)]))
      : listIn(readJson(text));
  return { rows: rowsOfRecords(records), sheets: [], sheet: 1, separator: ',' };
}

/** Records with named values as rows of texts, the row of names first. */
function rowsOfRecords(records: readonly Readonly<Record<string, unknown>>[]): string[][] {
  const names = [...new Set(records.flatMap((record) => Object.keys(record)))];
  return [names, ...records.map((record) => names.map((name) => cellText(record[name])))];
}

async function sheetsOf(file: Blob): Promise<{ sheet: string; data: unknown[][] }[]> {
  try {
    return (await readSheets(file as File)) as unknown as { sheet: string; data: unknown[][] }[];
  } catch {
    throw new Error(say('This workbook cannot be read. Open it, save it as .xlsx again, and choose it again.'));
  }
}

/** The rows of a delimited text, part by part, however long it is. */
async function* csvRows(file: Blob, encoding: string, separator: string): AsyncGenerator<readonly string[]> {
  const rows: string[][] = [];
  const parser = parse({ ...CSV_PARSING, delimiter: separator, skip_empty_lines: true });
  parser.on('readable', () => {
    for (let row = parser.read() as string[] | null; row !== null; row = parser.read() as string[] | null)
      rows.push(row);
  });
  const ended = new Promise<void>((resolve, reject) => {
    parser.on('end', resolve);
    // What breaks far down is told with its row when the file is checked; until there it is looked at.
    parser.on('error', (error: { code?: string }) => (error.code?.startsWith('CSV_') ? resolve() : reject(error)));
  });
  const decoder = new TextDecoder(encoding);
  for (let at = 0; at < file.size && parser.writable; at += LOOKED_AT) {
    const part = await file.slice(at, at + LOOKED_AT).arrayBuffer();
    await new Promise<void>((resolve) => parser.write(decoder.decode(part, { stream: true }), () => resolve()));
    answer({ kind: 'progress', share: Math.min(0.95, at / file.size) });
    yield* rows.splice(0);
  }
  if (parser.writable) parser.end(decoder.decode());
  await ended;
  yield* rows;
}

/** The sheet with the most rows, counted from 1: titles and notes have few. */
function fullest(sheets: readonly (readonly unknown[])[]): number {
  const rows = sheets.map((sheet) => sheet.length);
  return rows.indexOf(Math.max(...rows)) + 1;
}

function listIn(json: unknown): Record<string, unknown>[] {
  const list = jsonRecords(json);
  if (!list) throw new Error(say('This JSON has no list of records. It must be a list, such as [{"Name": "A-1"}].'));
  return list.filter(isRecord);
}

function recordOfLine(line: string, number: number): Record<string, unknown> {
  try {
    return (readJson(line) ?? {}) as Record<string, unknown>;
  } catch (error) {
    const from = error instanceof BrokenJson ? say(', from character {column} on', { column: error.column }) : '';
    throw new Error(
      say('Line {number} is not JSON{from}. Correct it, or remove it, and choose the file again.', { number, from }),
    );
  }
}
