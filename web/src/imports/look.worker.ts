import {
  type ColumnGuess,
  type FileKind,
  findHeader,
  inferColumn,
  type Reading,
  sniffEncoding,
  sniffKind,
  sniffSeparator,
} from '@fiche/core/imports';
import { parse } from 'csv-parse/browser/esm/sync';
import readSheets from 'read-excel-file/web-worker';

/** How much of a text file is looked at: enough to find out what its columns hold. */
const LOOKED_AT = 768 * 1024;
const SAMPLES = 400;
const SHOWN = 6;

/** What is asked of the worker: look at a file, with what a person has said otherwise than proposed. */
export interface LookRequest {
  readonly file: Blob;
  readonly said: Partial<Reading>;
}

export interface LookedColumn {
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
  try {
    answer(await look(data));
  } catch (error) {
    answer({ kind: 'wrong', message: (error as Error).message || 'This file cannot be read.' });
  }
};

async function look({ file, said }: LookRequest): Promise<LookAnswer> {
  const bytes = new Uint8Array(await file.slice(0, LOOKED_AT).arrayBuffer());
  answer({ kind: 'progress', share: 0.3 });
  const encoding = said.encoding ?? sniffEncoding(bytes);
  const text = new TextDecoder(encoding).decode(bytes).replace(/^\ufeff/, '');
  const found = sniffKind(bytes, text);
  if ('wrong' in found) return { kind: 'wrong', message: found.wrong };
  const { rows, sheets, sheet, separator } = await rowsIn(found.kind, file, text, said, bytes.length < file.size);
  answer({ kind: 'progress', share: 0.7 });
  if (rows.length === 0) return { kind: 'wrong', message: 'This file is empty. Choose one that has rows.' };
  const named = found.kind === 'json' || found.kind === 'jsonl';
  const header = named ? 0 : Math.min(said.header ?? findHeader(rows.slice(0, 40)), rows.length - 1);
  const reading: Reading = { kind: found.kind, encoding, separator, sheet, header };
  const body = rows.slice(header + 1).filter((row) => row.some((cell) => cell !== ''));
  const names = rows[header] ?? [];
  const width = Math.min(1_600, Math.max(names.length, ...body.slice(0, 50).map((row) => row.length)));
  const columns = Array.from({ length: width }, (_one, at): LookedColumn => {
    const cells = body.slice(0, SAMPLES).map((row) => row[at] ?? '');
    const words = [...new Set(cells.map((cell) => cell.trim()).filter((cell) => cell !== ''))];
    return {
      name: (names[at] ?? '').trim() || `Column ${at + 1}`,
      at,
      samples: cells.filter((cell) => cell !== '').slice(0, SHOWN),
      words: words.slice(0, 60).map((word) => word.slice(0, 300)),
      guess: inferColumn(cells),
    };
  });
  return { kind: 'looked', reading, sheets, top: rows.slice(0, 8).map((row) => row.slice(0, 8)), columns };
}

async function rowsIn(
  kind: FileKind,
  file: Blob,
  text: string,
  said: Partial<Reading>,
  cut: boolean,
): Promise<{ rows: string[][]; sheets: string[]; sheet: number; separator: string }> {
  if (kind === 'csv') {
    const separator = said.separator ?? sniffSeparator(text);
    // A part of a file ends anywhere: its last, broken line is left out.
    const whole = cut ? text.slice(0, text.lastIndexOf('\n')) : text;
    const rows = parse(whole, {
      delimiter: separator,
      relax_column_count: true,
      relax_quotes: true,
      to: SAMPLES + 60,
      skip_empty_lines: true,
    }) as string[][];
    return { rows, sheets: [], sheet: 1, separator };
  }
  if (kind === 'xlsx') {
    const sheets = (await readSheets(file as File)) as unknown as { sheet: string; data: unknown[][] }[];
    const number = said.sheet ?? fullest(sheets.map((one) => one.data));
    const chosen = sheets[number - 1] ?? sheets[0];
    const rows = (chosen?.data ?? []).slice(0, SAMPLES + 60).map((row) => row.map(cellText));
    return { rows, sheets: sheets.map((one) => one.sheet), sheet: number, separator: ',' };
  }
  const records =
    kind === 'jsonl'
      ? text
          .split('\n')
          .slice(0, cut ? -1 : undefined)
          .filter((line) => line.trim() !== '')
          .map((line) => JSON.parse(line) as Record<string, unknown>)
      : listIn(JSON.parse(await file.text()));
  const names = [...new Set(records.slice(0, SAMPLES).flatMap((record) => Object.keys(record)))];
  return {
    rows: [names, ...records.slice(0, SAMPLES).map((record) => names.map((name) => cellText(record[name])))],
    sheets: [],
    sheet: 1,
    separator: ',',
  };
}

/** The sheet with the most rows, counted from 1: titles and notes have few. */
function fullest(sheets: readonly (readonly unknown[])[]): number {
  const rows = sheets.map((sheet) => sheet.length);
  return rows.indexOf(Math.max(...rows)) + 1;
}

function listIn(json: unknown): Record<string, unknown>[] {
  const list = Array.isArray(json) ? json : Object.values((json ?? {}) as object).find((value) => Array.isArray(value));
  if (!list) throw new Error('This JSON has no list of records. It must be a list, such as [{"Name": "A-1"}].');
  return list as Record<string, unknown>[];
}

function cellText(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (cell instanceof Date) return cell.toISOString().slice(0, 16);
  if (typeof cell === 'boolean') return cell ? 'yes' : 'no';
  if (Array.isArray(cell)) return cell.map(cellText).join(', ');
  return typeof cell === 'object' ? JSON.stringify(cell) : String(cell);
}
