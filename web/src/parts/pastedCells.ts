import type { Options } from 'csv-parse/browser/esm/sync';

const HOW: Options = { delimiter: '\t', relax_column_count: true, relax_quotes: true };

/**
 * The cells of a block copied from a spreadsheet, row by row: tabs between cells, quotes around those that hold tabs,
 * breaks or quotes. A break within a cell becomes a space. A quote that is never closed is a character like any other.
 */
export async function pastedCells(text: string): Promise<string[][]> {
  const { parse } = await import('csv-parse/browser/esm/sync');
  const block = text.replace(/\r\n?/g, '\n').replace(/\n+$/, '');
  const rows = (how: Options): string[][] => parse(block, how) as unknown as string[][];
  const read = (): string[][] => {
    try {
      return rows(HOW);
    } catch {
      return rows({ ...HOW, quote: false });
    }
  };
  return read().map((cells) => cells.map((cell) => cell.replaceAll('\n', ' ')));
}
