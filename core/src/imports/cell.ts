import { fieldType, type Parsed, type Settings } from '../fields/index.ts';
import { PLAIN, withoutCurrency, writingOf } from '../office/index.ts';

/** Which comes first in a date of numbers. */
export type DateOrder = 'dayFirst' | 'monthFirst';
export type DecimalMark = '.' | ',';

export interface CellReading {
  readonly dates: DateOrder;
  readonly decimal: DecimalMark;
}

const NUMBERS = /^(\d{1,2})[\s./-](\d{1,2})[\s./-](\d{4}|\d{2})(?=$|[\sT,])/;

/**
 * Whether the dates of a column are day-first or month-first, as the data decide: a number above 12 can only be a day.
 * Ambiguous when there are dates of numbers and none decides; then the office’s own order is proposed.
 */
export function readDateOrder(cells: readonly string[]): { order: DateOrder; ambiguous: boolean } {
  let seen = false;
  for (const cell of cells) {
    const found = NUMBERS.exec(cell.trim());
    if (!found) continue;
    const [first, second] = [Number(found[1]), Number(found[2])];
    if (first > 12 && second <= 12) return { order: 'dayFirst', ambiguous: false };
    if (second > 12 && first <= 12) return { order: 'monthFirst', ambiguous: false };
    if (first !== second) seen = true;
  }
  return { order: writingOf().order === 'monthFirst' ? 'monthFirst' : 'dayFirst', ambiguous: seen };
}

/** Digits after a leading zero: a code, and no number. */
export const isCode = (cell: string): boolean => /^0\d+$/.test(cell);

/** A spreadsheet's day number counts from 30 December 1899, as its makers count 1900 as a leap year. */
const SERIAL_EPOCH = Date.UTC(1899, 11, 30);
const DAY_MS = 86_400_000;
/** Day numbers of 1 January 1920 to 31 December 2119: others are more likely plain numbers. */
const SERIAL = { first: 7_306, last: 80_353 };

function serialDay(cell: string): string | undefined {
  if (!/^\d{4,5}(\.\d+)?$/.test(cell)) return undefined;
  const days = Number(cell);
  if (days < SERIAL.first || days > SERIAL.last) return undefined;
  // To the minute, half a minute up.
  return new Date(SERIAL_EPOCH + Math.round((days * DAY_MS) / 60_000) * 60_000).toISOString().slice(0, 16);
}

/** Brings a date of numbers, of a spreadsheet or of ISO 8601 into the form that field types read. */
function plainDate(cell: string, { dates }: CellReading): string {
  const serial = serialDay(cell);
  if (serial) return serial;
  const turned = NUMBERS.test(cell)
    ? cell.replace(NUMBERS, (_all, first, second, year) => {
        const [day, month] = dates === 'monthFirst' ? [second, first] : [first, second];
        return `${year.length === 2 ? `20${year}` : year}-${month}-${day}`;
      })
    : cell.replace(/^((?:19|20)\d{2})(\d{2})(\d{2})$/, '$1-$2-$3');
  return turned.replace(/(\d{1,2}:\d{2}):[0-5]\d(\.\d+)?Z?$/, '$1');
}

const plainNumber = (cell: string, { decimal }: CellReading): string => {
  const bare = cell.replace(/[€$£\s\u00a0\u202f'’]/g, '');
  // Only a number that is written in thousands loses their marks: `0,500` is a half, whatever the column has.
  if (decimal === ',')
    return (/^-?[1-9]\d{0,2}(\.\d{3})+(,\d*)?$/.test(bare) ? bare.replaceAll('.', '') : bare).replace(/,(\d*)$/, '.$1');
  return /^-?[1-9]\d{0,2}(,\d{3})+(\.\d*)?$/.test(bare) ? bare.replaceAll(',', '') : bare;
};

/** Takes off the mark against formulas that Fiche writes before a text: `'=…` is `=…`. */
export const unguarded = (cell: string): string => (/^'[=+\-@\t\r']/.test(cell) ? cell.slice(1) : cell);

/**
 * Reads a cell of a file as a value of a type. The message of a refusal shows an accepted example. A cell that was
 * written out by Fiche with a mark against formulas (`'=…`) loses it again.
 */
export function readCell(column: { type: string; settings: Settings }, cell: string, how: CellReading): Parsed {
  const { type, settings } = column;
  const text = unguarded(cell);
  const target = fieldType(type);
  const trimmed = text.trim();
  if (trimmed === '') return { ok: true, value: null };
  switch (target.family) {
    case 'number': {
      const unit = typeof settings.unit === 'string' ? settings.unit : '';
      if (typeof settings.currency === 'string')
        return target.parse(plainNumber(withoutCurrency(trimmed, settings.currency), how), settings, PLAIN);
      const bare =
        unit !== '' && trimmed.endsWith(unit) ? trimmed.slice(0, -unit.length) : trimmed.replace(/\s*%$/, '');
      return target.parse(type === 'rating' ? bare : plainNumber(bare, how), settings, PLAIN);
    }
    case 'date': {
      // Midnight is how a spreadsheet writes a day.
      const plain = plainDate(trimmed, how).replace(/[T\s]00:00$/, '');
      return target.parse(plain, settings);
    }
    case 'dateTime': {
      const plain = plainDate(trimmed, how);
      return target.parse(/\d[:h]\d/.test(plain) ? plain : `${plain} 00:00`, settings);
    }
    case 'time':
      return target.parse(/^0(\.\d+)?$/.test(trimmed) ? timeOfDay(Number(trimmed)) : trimmed, settings);
    case 'yesNo':
      return target.parse(/^x$/i.test(trimmed) ? 'yes' : trimmed, settings);
    default:
      return target.parse(text, settings);
  }
}

/** A spreadsheet's share of a day as a time: 0.5 is 12:00. */
const timeOfDay = (share: number): string =>
  new Date(Math.round((share * DAY_MS) / 60_000) * 60_000).toISOString().slice(11, 16);
