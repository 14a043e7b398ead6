import type { Content, CustomTableLayout, TableCell } from 'pdfmake/interfaces.js';
import { textOf } from './fonts.ts';
import { FADED, GROUND, RULE } from './pageStyle.ts';

export interface RuledColumn {
  readonly label: string;
  readonly numeric: boolean;
}

/** A row of a printed table: of a record, over a group, or of what stands under the columns. */
export interface RuledRow {
  readonly kind: 'row' | 'group' | 'totals';
  readonly cells: readonly string[];
}

/** About how many points wide a letter is at the size of a table, and what a cell has around it. */
const LETTER = 4.5;
const PADDING = 8;
/** The least and the most that a column is given before widths are fitted to the page. */
const [LEAST, MOST] = [26, 190];
/** Rows that are measured: a long list is like its beginning. */
const MEASURED = 400;

/** The widths of columns by what stands in them, together as wide as the page. */
export function widthsOf(columns: readonly RuledColumn[], rows: readonly RuledRow[], width: number): number[] {
  const room = width - PADDING * columns.length;
  const wanted = columns.map(({ label }, at) => {
    const lengthsOf = (some: readonly RuledRow[]): number[] => some.map(({ cells }) => longestLine(cells[at] ?? ''));
    const lengths = lengthsOf(rows.filter((row) => row.kind === 'row').slice(0, MEASURED));
    const usual = lengths.sort((a, b) => a - b)[Math.floor(lengths.length * 0.95)] ?? 0;
    // Sums do not break; what a group has in common, in the first column, has more room than that.
    const sums = at === 0 ? 0 : Math.max(0, ...lengthsOf(rows.filter((row) => row.kind !== 'row')));
    // A heading may break between its words.
    const word = Math.max(...label.split(' ').map((one) => one.length));
    return Math.min(MOST, Math.max(LEAST, LETTER * Math.max(usual, sums, word)));
  });
  const sum = wanted.reduce((all, one) => all + one, 0);
  if (sum <= room) return wanted.map((one) => one + ((room - sum) * one) / sum);
  // Narrow columns keep their width for as long as wide ones can give of theirs.
  const least = LEAST * columns.length;
  const share = Math.max(0, (room - least) / (sum - least));
  return wanted.map((one) => LEAST + (one - LEAST) * share);
}

const longestLine = (text: string): number => Math.max(...text.split('\n').map((line) => line.length));

/** So many columns at most stand beside each other on a page of that width. */
export const mostColumns = (width: number): number => Math.floor(width / (LEAST + PADDING));

/** The name of the ruled lines around a table, which `LAYOUTS` draws: a document goes to a thread, where functions cannot. */
const RULED = 'ruled';
export const BOXED = 'boxed';

/** How lines are drawn around tables: ruled ones with a stronger line under their head, and a box. */
export const LAYOUTS: Readonly<Record<string, CustomTableLayout>> = {
  [RULED]: {
    hLineColor: (line) => (line === 1 ? FADED : RULE),
    hLineWidth: (line) => (line === 0 ? 0 : line === 1 ? 0.8 : 0.4),
    vLineWidth: () => 0,
    paddingLeft: () => PADDING / 2,
    paddingRight: () => PADDING / 2,
    paddingTop: () => 1.5,
    paddingBottom: () => 1.5,
  },
  [BOXED]: { hLineColor: () => RULE, vLineColor: () => RULE, hLineWidth: () => 0.5, vLineWidth: () => 0.5 },
};

/** A table on ruled lines, its head repeated on every page, numbers to the right. */
export function ruledTable(columns: readonly RuledColumn[], rows: readonly RuledRow[], width: number): Content {
  const cellOf = (text: string, at: number, style: object): TableCell =>
    textOf(text, { fontSize: 8.5, ...(columns[at]?.numeric ? { alignment: 'right' } : {}), ...style }) as TableCell;
  const body: TableCell[][] = [
    columns.map(({ label }, at) => cellOf(label, at, { color: FADED, bold: true })),
    ...rows.map(({ kind, cells }): TableCell[] => {
      if (kind === 'row') return columns.map((_column, at) => cellOf(cells[at] ?? '', at, {}));
      const style = { bold: true, fillColor: GROUND };
      const row = columns.map((_column, at) => cellOf(cells[at] ?? '', at, style));
      if (kind === 'totals') return row;
      // What a group has in common may be longer than its column: it takes those without a summary.
      const free = columns.findIndex((_column, at) => at > 0 && (cells[at] ?? '') !== '');
      const span = free < 0 ? columns.length : free;
      return [textOf(cells[0] ?? '', { fontSize: 8.5, colSpan: span, ...style }) as TableCell, ...row.slice(1)];
    }),
  ];
  return {
    table: { headerRows: 1, widths: widthsOf(columns, rows, width), body, dontBreakRows: true, keepWithHeaderRows: 1 },
    layout: RULED,
  };
}
