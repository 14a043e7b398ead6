import { fieldType, type Settings } from '../fields/index.ts';
import { currencyIn, currencyPlaces, writingOf } from '../office/index.ts';
import { type DateOrder, type DecimalMark, isCode, readCell, readDateOrder } from './cell.ts';

/** What only all rows of a file show of a column; of its cells, inferring sees samples. */
export interface ColumnEvidence {
  /** How many different cells there are, blank ones left out; many are not counted to the end. */
  readonly different: number;
  /** Whether a cell is blank. */
  readonly blank: boolean;
  /** Whether a cell is a code that begins with 0. */
  readonly zeros: boolean;
  /** The order of dates that a cell decides. */
  readonly order: DateOrder | undefined;
}

/** What a column of a file seems to hold. */
export interface ColumnGuess {
  readonly type: string;
  readonly settings: Settings;
  readonly dates: DateOrder;
  /** True when day-first and month-first fit alike, so that a person has to say. */
  readonly ambiguous: boolean;
  readonly decimal: DecimalMark;
  /** True when every mark in its numbers could be one of decimals or of thousands, so that a person has to say. */
  readonly eitherMark: boolean;
  readonly required: boolean;
}

const CHOICES_MOST = 24;
const plain = (type: string, settings: Record<string, unknown> = {}): { type: string; settings: Settings } => ({
  type,
  settings: fieldType(type).settingsSchema.parse(settings),
});

/** A number with its decimal mark: `1.234,50` is written with a comma, `1,234.50` with a point. */
function decimalMarkOf(cells: readonly string[]): { decimal: DecimalMark; eitherMark: boolean } {
  const comma = cells.some(
    (cell) => /\d\.\d{3},\d/.test(cell) || /^-?(\d+,(\d{1,2}|\d{4,})|0,\d+)$/.test(cell.replace(/[^\d,.-]/g, '')),
  );
  const point = cells.some(
    (cell) => /\d,\d{3}\.\d/.test(cell) || /^-?(\d+\.(\d{1,2}|\d{4,})|0\.\d+)$/.test(cell.replace(/[^\d,.-]/g, '')),
  );
  const eitherMark = comma === point && cells.some((cell) => /^-?[1-9]\d{0,2}[.,]\d{3}$/.test(cell));
  // Where the cells do not tell, the office’s own mark is the likely one.
  return { decimal: comma === point ? writingOf().decimal : comma ? ',' : '.', eitherMark };
}

const EIGHT_DIGITS = /^(19|20)\d{6}$/;

/** A date needs marks between its parts, or all of the eight digits of ISO 8601: a bare number is rather a code. */
const looksLikeMoment = (cell: string): boolean =>
  /\d[\s./:h-]+[\da-z]|\d[a-z]{3}/i.test(cell) || EIGHT_DIGITS.test(cell);

const evidenceOf = (cells: readonly string[]): ColumnEvidence => {
  const present = cells.map((cell) => cell.trim()).filter((cell) => cell !== '');
  return {
    different: new Set(present).size,
    blank: present.length < cells.length,
    zeros: present.some(isCode),
    order: undefined,
  };
};

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
 * `cells` may be samples: what they cannot show is in `evidence`.
 */
export function inferColumn(cells: readonly string[], evidence: ColumnEvidence = evidenceOf(cells)): ColumnGuess {
  const present = cells.map((cell) => cell.trim()).filter((cell) => cell !== '');
  const { decimal, eitherMark } = decimalMarkOf(present);
  const told = readDateOrder(present);
  const dates = evidence.order ?? told.order;
  const ambiguous = evidence.order === undefined && told.ambiguous;
  const how = { dates, decimal };
  const fits = (type: string, settings: Record<string, unknown> = {}): boolean =>
    mostly(present, (cell) => readCell(plain(type, settings), cell, how).ok);
  const base = { dates, ambiguous: false, decimal, eitherMark: false, required: present.length > 0 && !evidence.blank };
  if (present.length === 0) return { ...base, ...plain('text'), required: false };
  if (mostly(present, (cell) => /^(yes|no|y|n|true|false|x)$/i.test(cell))) return { ...base, ...plain('yesNo') };
  if (present.every((cell) => EIGHT_DIGITS.test(cell)) && fits('date')) return { ...base, ...plain('date') };
  const numeric = mostly(
    present,
    (cell) => /\d/.test(cell) && !/[a-z@]/i.test(cell.replace(/[\d\s.,'%€$£-]|m³?|kg|cm|EUR|GBP/gi, '')),
  );
  const currency = currencyIn(present[0] ?? '');
  if (numeric && currency !== undefined && present.every((cell) => currencyIn(cell) === currency)) {
    const settings = { currency, places: Math.max(currencyPlaces(currency), placesOf(present, decimal)) };
    if (fits('amount', settings)) return { ...base, eitherMark, ...plain('amount', settings) };
  }
  if (numeric && !evidence.zeros) {
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
    if (fits('wholeNumber')) return { ...base, eitherMark, ...plain('wholeNumber') };
    const places = Math.max(1, placesOf(present, decimal));
    if (fits('decimal', { places })) return { ...base, eitherMark, ...plain('decimal', { places }) };
  }
  if (!evidence.zeros && mostly(present, (cell) => /\d/.test(cell) && looksLikeMoment(cell))) {
    if (mostly(present, (cell) => !/\d[:h]\d/.test(cell.replace(/[T\s]00:00(:00)?$/, ''))) && fits('date'))
      return { ...base, ...plain('date'), ambiguous };
    if (fits('dateTime')) return { ...base, ...plain('dateTime'), ambiguous };
    if (mostly(present, (cell) => cell.includes(':')) && fits('time')) return { ...base, ...plain('time') };
  }
  if (mostly(present, (cell) => cell.includes('@')) && fits('email')) return { ...base, ...plain('email') };
  if (mostly(present, (cell) => /^https?:\/\//i.test(cell)) && fits('webAddress'))
    return { ...base, ...plain('webAddress') };
  if (present.some((cell) => /[\r\n]/.test(cell) || cell.length > 160)) return { ...base, ...plain('longText') };
  const words = [...new Set(present)];
  const repeats = present.length >= 8 && evidence.different <= CHOICES_MOST && words.length <= present.length / 3;
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
      new Set(filled).size >= filled.length / 2
    )
      return at;
  }
  return Math.max(0, widths.indexOf(most));
}
