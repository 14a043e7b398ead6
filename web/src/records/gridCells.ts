import type { ListedRecord } from '@fiche/core/api';
import { isNumbered } from '@fiche/core/fields';
import { typeOf } from '@fiche/core/tables';
import { type KnownColumn, listedText } from '@fiche/core/views';
import { textCss } from '../parts/index.ts';
import gridCss from './grid.module.css';

/** How wide a column of a type wants to be, in px; a wider page stretches all alike. */
const WIDTHS: Readonly<Record<string, number>> = {
  longText: 170,
  text: 125,
  link: 125,
  decimal: 90,
  wholeNumber: 85,
  yesNo: 70,
  date: 105,
  dateTime: 145,
  sequence: 150,
  choice: 115,
  choices: 150,
  links: 150,
  percent: 80,
  time: 70,
  email: 160,
  phone: 130,
  webAddress: 170,
  rating: 80,
};

const PHONE_CELLS = 4;
const AUDIT_WIDTH = 130;
const MOST_HEADING = 200;
const SUMMARY_WIDTH = 150;

/** On a phone a record is a card of what it has: its first column and three more. */
export const cardColumns = (columns: readonly KnownColumn[], record: ListedRecord): KnownColumn[] =>
  columns.filter((column, at) => at === 0 || listedText(record, column) !== '').slice(0, PHONE_CELLS);

/**
 * The width of each column by path, in px: as somebody made it; otherwise as its type wants to be, and all of these alike wider
 * where the grid has room.
 */
export function drawnWidths(
  columns: readonly KnownColumn[],
  made: ReadonlyMap<string, number>,
  foot: ReadonlyMap<string, string>,
  room: number,
): Record<string, number> {
  const natural = columns.map((column) => made.get(column.path) ?? widthOf(column, foot.has(column.path)));
  const free = room - natural.reduce((sum, width) => sum + width, 0);
  const elastic = columns.reduce((sum, { path }, at) => (made.has(path) ? sum : sum + (natural[at] ?? 0)), 0);
  const stretch = free > 0 && elastic > 0 ? 1 + free / elastic : 1;
  return Object.fromEntries(
    columns.map(({ path }, at) => [path, Math.floor((natural[at] ?? 0) * (made.has(path) ? 1 : stretch))]),
  );
}

/** Wide enough for what it holds, and for its heading with the mark of sorting. */
const widthOf = ({ field, label }: KnownColumn, summed: boolean): number =>
  Math.max(
    summed ? SUMMARY_WIDTH : 0,
    field ? (WIDTHS[field.type] ?? 120) : AUDIT_WIDTH,
    Math.min(MOST_HEADING, 40 + label.length * 7),
  );

export const isNumber = ({ field }: KnownColumn): boolean => field !== undefined && typeOf(field).family === 'number';

export function cellClass(column: KnownColumn): string | undefined {
  if (column.field === undefined) return gridCss.audit;
  return isNumber(column) ? gridCss.numeric : isNumbered(column.field) ? textCss.mono : undefined;
}
