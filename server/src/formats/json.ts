import type { FileColumn, FileFormat, FileRow } from './format.ts';

const recordOf = (columns: readonly FileColumn[], { cells }: FileRow): string =>
  JSON.stringify(Object.fromEntries(columns.map(({ key }, at) => [key, cells[at] ?? null])));

/** One list of records (RFC 8259), with a record in each line. */
export const json: FileFormat = {
  type: 'application/json',
  ending: 'json',
  async *write({ columns }, pages) {
    let before = '[\n';
    for await (const rows of pages)
      for (const row of rows) {
        yield before + recordOf(columns, row);
        before = ',\n';
      }
    yield before === ',\n' ? '\n]\n' : '[]\n';
  },
};

/** JSON Lines: a record in each line, nothing around them. */
export const jsonLines: FileFormat = {
  type: 'application/jsonl',
  ending: 'jsonl',
  async *write({ columns }, pages) {
    for await (const rows of pages) yield rows.map((row) => `${recordOf(columns, row)}\n`).join('');
  },
};
