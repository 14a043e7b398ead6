import { isCode, readDateOrder } from './cell.ts';
import type { ColumnEvidence } from './infer.ts';

/** So many rows are kept as samples, evenly over the whole file. */
const SAMPLES = 4_000;
/** Of the cells of a column so many different ones are counted. */
const WORDS = 400;

/** What was seen of one column: cells from all parts of the file, and what only all rows together show. */
interface ColumnSeen extends ColumnEvidence {
  readonly cells: readonly string[];
  readonly words: readonly string[];
}

interface Column {
  readonly words: Set<string>;
  blanks: number;
  zeros: boolean;
  order: 'dayFirst' | 'monthFirst' | undefined;
}

/** Looks at every row of a file in little memory, and keeps what tells what its columns hold. */
export class FileLook {
  private readonly columns: Column[] = [];
  private samples: (readonly string[])[] = [];
  private every = 1;
  private rows = 0;

  add(row: readonly string[]): void {
    if (this.rows++ % this.every === 0) this.samples.push(row);
    if (this.samples.length > SAMPLES) {
      this.samples = this.samples.filter((_row, at) => at % 2 === 0);
      this.every *= 2;
    }
    for (let at = this.columns.length; at < row.length; at++)
      this.columns.push({ words: new Set(), blanks: this.rows - 1, zeros: false, order: undefined });
    this.columns.forEach((column, at) => {
      const cell = (row[at] ?? '').trim();
      if (cell === '') column.blanks++;
      else noteCell(column, cell);
    });
  }

  /** The columns from the left, at least `width`. */
  seen(width: number): ColumnSeen[] {
    return Array.from({ length: Math.max(width, this.columns.length) }, (_one, at) => {
      const column = this.columns[at];
      return {
        cells: this.samples.map((row) => row[at] ?? ''),
        words: [...(column?.words ?? [])],
        different: column?.words.size ?? 0,
        blank: (column?.blanks ?? this.rows) > 0,
        zeros: column?.zeros ?? false,
        order: column?.order,
      };
    });
  }
}

function noteCell(column: Column, cell: string): void {
  if (column.words.size <= WORDS) column.words.add(cell);
  column.zeros ||= isCode(cell);
  if (column.order !== undefined || !/^\d{1,2}\D\d{1,2}\D/.test(cell)) return;
  const { order, ambiguous } = readDateOrder([cell]);
  if (!ambiguous && isDecided(cell)) column.order = order;
}

const isDecided = (cell: string): boolean => {
  const [first = 0, second = 0] = cell.split(/\D/).map(Number);
  return first > 12 !== second > 12;
};
