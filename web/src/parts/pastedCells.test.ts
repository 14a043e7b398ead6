import fc from 'fast-check';
import { expect, test } from 'vitest';
import { pastedCells } from './pastedCells.ts';

test.each([
  [
    'a\tb\n"c ""d""\te"\tf\n',
    [
      ['a', 'b'],
      ['c "d"\te', 'f'],
    ],
  ],
  ['one\r\ntwo\r\n', [['one'], ['two']]],
  ['"two\nlines"\t1', [['two lines', '1']]],
  ['5" hose\t3', [['5" hose', '3']]],
  [
    '"never closed\t1\nb\t2',
    [
      ['"never closed', '1'],
      ['b', '2'],
    ],
  ],
  [
    '\t\n\tx',
    [
      ['', ''],
      ['', 'x'],
    ],
  ],
])('%j is read as its cells', async (text, cells) => {
  expect(await pastedCells(text)).toEqual(cells);
});

test('what a spreadsheet writes is read back', async () => {
  const cell = fc.string().map((text) => text.replace(/[\r\n]/g, ' '));
  await fc.assert(
    fc.asyncProperty(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 5 }), async (rows) => {
      // A last row that is blank cannot be told from the line's end.
      const block = [...rows, ['end', '1']];
      const written = block
        .map((cells) =>
          cells.map((text) => (/["\t\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text)).join('\t'),
        )
        .join('\n');
      expect(await pastedCells(written)).toEqual(block);
    }),
  );
});
