import { writeItems } from '@fiche/core/fields';
import { stringify } from 'csv-stringify/sync';
import type { FileCell, FileFormat, Holds } from './format.ts';

/**
 * Lines of CSV (RFC 4180) with a mark before what a spreadsheet would take for a formula; reading takes it off again.
 * `formulaGuard` says for each column whether its cells are texts.
 */
export const csvLines = (rows: readonly (readonly string[])[], formulaGuard: readonly boolean[]): string =>
  stringify(
    rows.map((row) => row.map((cell, at) => (formulaGuard[at] ? guarded(cell) : cell))),
    // A line feed alone ends a record for many readers: it is quoted as well.
    { record_delimiter: '\r\n', quoted_match: /[\r\n]/ },
  );

/** Text that begins like a formula, with full-width signs too, or like a guarded one. Numbers keep their minus. */
const guarded = (cell: string): string => (/^'?[=+\-@\t\r＝＋－＠]|^''/.test(cell) ? `'${cell}` : cell);

/** Whether a column holds texts, which could be taken for formulas. */
export const isGuarded = (holds: Holds): boolean => holds === 'text' || holds === 'list';

/** A value as text that any program reads: ISO dates with a space before the time, plain numbers, yes and no. */
export function cellAsText(cell: FileCell, holds: Holds): string {
  if (cell === null) return '';
  if (typeof cell === 'boolean') return cell ? 'yes' : 'no';
  if (typeof cell === 'object') return writeItems(cell.map(String));
  return holds === 'dateTime' ? String(cell).replace('T', ' ') : String(cell);
}

/** CSV in UTF-8 with its mark, so that spreadsheets find the encoding. */
export const csv: FileFormat = {
  type: 'text/csv; charset=utf-8',
  ending: 'csv',
  async *write({ columns }, pages) {
    const guard = columns.map(({ holds }) => isGuarded(holds));
    yield `\ufeff${csvLines(
      [columns.map((column) => column.label)],
      columns.map(() => true),
    )}`;
    for await (const rows of pages)
      yield csvLines(
        rows.map(({ cells }) => columns.map(({ holds }, at) => cellAsText(cells[at] ?? null, holds))),
        guard,
      );
  },
};
