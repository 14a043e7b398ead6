import { fieldType, type Settings } from '../fields/index.ts';
import { type DateOrder, type DecimalMark, readCell, readDateOrder } from './cell.ts';

/** What a column of a file seems to hold. */
export interface ColumnGuess {
  readonly type: string;
  readonly settings: Settings;
  readonly dates: DateOrder;
  /** True when day-first and month-first fit alike, so that a person has to say. */
  readonly ambiguous: boolean;
  readonly decimal: DecimalMark;
  readonly required: boolean;
}

const CHOICES_MOST = 24;
const plain = (type: string, settings: Record<string, unknown> = {}): { type: string; settings: Settings } => ({
  type,
  settings: fieldType(type).settingsSchema.parse(settings),
});

/** A number with its decimal mark: `1.234,50` is written with a comma, `1,234.50` with a point. */
function decimalMarkOf(cells: readonly string[]): DecimalMark {
  const comma = cells.some(
    (cell) => /\d\.\d{3},\d/.test(cell) || /^-?\d+,(\d{1,2}|\d{4,})$/.test(cell.replace(/[^\d,.-]/g, '')),
  );
  const point = cells.some(
    (cell) => /\d,\d{3}\.\d/.test(cell) || /^-?\d+\.(\d{1,2}|\d{4,})$/.test(cell.replace(/[^\d,.-]/g, '')),
  );
  return comma && !point ? ',' : '.';
}

/** The number of decimal places that a column needs. */
const placesOf = (cells: readonly string[], decimal: DecimalMark): number =>
  Math.min(6, Math.max(0, ...cells.map((cell) => new RegExp(`\\${decimal}(\\d+)\\D*$`).exec(cell)?.[1]?.length ?? 0)));

/** Of many cells a few may be wrong, and are found when every row is checked; of few, none. */
const MOSTLY = { share: 0.8, from: 5 };

const mostly = (cells: readonly string[], test: (cell: string) => boolean): boolean => {
  const passed = cells.filter(test).length;
  return passed === cells.length || (cells.length >= MOSTLY.from && passed >= cells.length * MOSTLY.share);
};

/**
 * What a column holds, from its cells: the narrowest type that takes those that are not blank, but few. A code that begins
 * with 0 stays text, few words that repeat become choices, and dates are day-first or month-first as the data decide.
 */
export function inferColumn(cells: readonly string[]): ColumnGuess {
  const present = cells.map((cell) => cell.trim()).filter((cell) => cell !== '');
  const decimal = decimalMarkOf(present);
  const { order: dates, ambiguous } = readDateOrder(present);
  const how = { dates, decimal };
  const fits = (type: string, settings: Record<string, unknown> = {}): boolean =>
    mostly(present, (cell) => readCell(plain(type, settings), cell, how).ok);
  const base = { dates, ambiguous: false, decimal, required: present.length > 0 && present.length === cells.length };
  if (present.length === 0) return { ...base, ...plain('text'), required: false };
  if (mostly(present, (cell) => /^(yes|no|y|n|true|false|x)$/i.test(cell))) return { ...base, ...plain('yesNo') };
  const numeric = mostly(
    present,
    (cell) => /\d/.test(cell) && !/[a-z@]/i.test(cell.replace(/[\d\s.,'%€$£-]|m³?|kg|cm/gi, '')),
  );
  const code = present.some((cell) => /^0\d/.test(cell));
  if (numeric && !code) {
    if (present.every((cell) => cell.endsWith('%')) && fits('percent', { places: placesOf(present, decimal) }))
      return {
        ...base,
        ...plain('percent', {
          places: placesOf(
            present.map((cell) => cell.replace(/\s*%$/, '')),
            decimal,
          ),
        }),
      };
    if (fits('wholeNumber')) return { ...base, ...plain('wholeNumber') };
    const places = Math.max(1, placesOf(present, decimal));
    if (fits('decimal', { places })) return { ...base, ...plain('decimal', { places }) };
  }
  if (mostly(present, (cell) => /\d/.test(cell))) {
    if (mostly(present, (cell) => !/\d[:h]\d/.test(cell)) && fits('date'))
      return { ...base, ...plain('date'), ambiguous };
    if (fits('dateTime')) return { ...base, ...plain('dateTime'), ambiguous };
    if (mostly(present, (cell) => cell.includes(':')) && fits('time')) return { ...base, ...plain('time') };
  }
  if (mostly(present, (cell) => cell.includes('@')) && fits('email')) return { ...base, ...plain('email') };
  if (mostly(present, (cell) => /^https?:\/\//i.test(cell)) && fits('webAddress'))
    return { ...base, ...plain('webAddress') };
  if (present.some((cell) => /[\r\n]/.test(cell) || cell.length > 160)) return { ...base, ...plain('longText') };
  const words = [...new Set(present)];
  const repeats = present.length >= 8 && words.length <= CHOICES_MOST && words.length <= present.length / 3;
  if (repeats && words.every((word) => word.length <= 60))
    return { ...base, ...plain('choice', { choices: words.sort() }) };
  return { ...base, ...plain('text') };
}

/**
 * The row that names the columns, from the top: the first in which every cell but few is filled with text, as wide as the
 * rows below it. Title rows above it are short. Returns 0 when nothing is better.
 */
export function findHeader(rows: readonly (readonly string[])[]): number {
  const widths = rows.map((row) => row.filter((cell) => cell.trim() !== '').length);
  const most = Math.max(0, ...widths);
  for (let at = 0; at < Math.min(rows.length, 20); at++) {
    const row = rows[at] ?? [];
    const filled = row.filter((cell) => cell.trim() !== '');
    const words = filled.filter((cell) => !/^[\d\s.,:/-]+$/.test(cell));
    if (
      filled.length >= Math.max(1, most * 0.7) &&
      words.length >= filled.length * 0.7 &&
      new Set(filled).size === filled.length
    )
      return at;
  }
  return Math.max(0, widths.indexOf(most));
}
