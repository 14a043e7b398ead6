import { parse, stringify } from 'lossless-json';
import { writeItems } from '../fields/index.ts';
import { say } from '../languages/index.ts';

/** Digits that a spreadsheet keeps of a number: what stands behind them is the remainder of a calculation. */
const DIGITS = 15;
const MINUTE_MS = 60_000;
/** A time of day in a workbook is a moment on the day from which its days are counted, by either of its calendars. */
const DAY_ZERO = /^(1899-12-3[01]|1904-01-01)T/;

/**
 * A cell of a workbook or a value of JSON as text, the same wherever a file is read: a moment as ISO 8601 to the nearest
 * minute (midnight as its day, a time of day alone as that), a number without the remainders of binary fractions, yes and no,
 * several values as a list.
 */
export function cellText(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (cell instanceof Date) return momentText(cell);
  if (typeof cell === 'boolean') return cell ? 'yes' : 'no';
  if (typeof cell === 'number') return numberText(cell);
  if (Array.isArray(cell)) return writeItems(cell.map(cellText));
  return typeof cell === 'object' ? (stringify(cell) ?? '') : String(cell);
}

function momentText(cell: Date): string {
  const time = cell.getTime();
  if (Number.isNaN(time)) return '';
  const text = new Date(Math.round(time / MINUTE_MS) * MINUTE_MS).toISOString().slice(0, 16);
  if (DAY_ZERO.test(text)) return text.slice(11);
  return text.endsWith('T00:00') ? text.slice(0, 10) : text;
}

const numberText = (cell: number): string => {
  const rounded = Number(cell.toPrecision(DIGITS));
  return Number.isInteger(cell) || !Number.isFinite(cell) ? plainDigits(String(cell)) : plainDigits(String(rounded));
};

/** A number that JavaScript writes with an exponent, in digits where there are not too many. */
function plainDigits(text: string): string {
  if (!text.includes('e')) return text;
  const value = Number(text);
  if (!Number.isFinite(value) || Math.abs(value) >= 1e21) return text;
  return value.toFixed(20).replace(/\.?0+$/, '');
}

/** A number of JSON: whole ones keep every digit, whatever their length; one beyond all bounds stays text. */
function exactNumber(text: string): number | bigint | string {
  const value = Number(text);
  if (/^-?\d+$/.test(text)) return Number.isSafeInteger(value) ? value : BigInt(text);
  return Number.isFinite(value) ? value : text;
}

/** JSON that cannot be read, with the place where it breaks, each counted from 1. */
export class BrokenJson extends Error {
  constructor(
    readonly line: number,
    readonly column: number,
  ) {
    super(
      say(
        'This is not JSON, or it is cut off: it breaks at line {line}, character {column}. Correct it there and send it again.',
        { line, column },
      ),
    );
  }
}

/** Reads JSON with every digit of its numbers. Throws BrokenJson with the place where it breaks. */
export function readJson(text: string): unknown {
  const plain = text.replace(/^\ufeff/, '');
  try {
    return parse(plain, undefined, { parseNumber: exactNumber });
  } catch (error) {
    const told = /position (\d+)/.exec((error as Error).message)?.[1];
    const before = plain.slice(0, told === undefined ? plain.length : Number(told)).split('\n');
    throw new BrokenJson(before.length, (before.at(-1) ?? '').length + 1);
  }
}

/** Whether a value of JSON has named values, so that it can be a record. */
export const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** The records of a JSON text: a list, the first list of records in an object, or the object itself as the only record. */
export function jsonRecords(json: unknown): readonly unknown[] | undefined {
  if (Array.isArray(json)) return json;
  if (!isRecord(json)) return undefined;
  const inner = Object.values(json).find((value) => Array.isArray(value) && value.some(isRecord));
  return (inner as unknown[] | undefined) ?? [json];
}
