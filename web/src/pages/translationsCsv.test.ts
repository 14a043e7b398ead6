import type { PageText } from '@fiche/core/forms';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { readTranslations, translationsCsv } from './translationsCsv.ts';

const textsOf = (texts: readonly string[]): PageText[] => texts.map((text) => ({ text, kind: 'label' }));

test('what is taken away and brought back is the same, whatever it holds', () =>
  fc.assert(
    fc.asyncProperty(
      fc.dictionary(
        fc.string({ minLength: 1, unit: 'grapheme' }).filter((text) => text.trim() !== '' && !text.includes('\r')),
        fc.string({ minLength: 1 }).filter((said) => said.trim() === said && said !== '' && !said.includes('\r')),
        { minKeys: 1, maxKeys: 8, noNullPrototype: true },
      ),
      async (given) => {
        const texts = textsOf(Object.keys(given));
        expect(await readTranslations(await translationsCsv(texts, given, 'fr'), texts)).toEqual({
          found: given,
          others: 0,
        });
      },
    ),
  ));

test('a file as a spreadsheet writes it is read: semicolons, line feeds of Windows, further columns', async () => {
  const csv =
    'text;fr;notes\r\nHarbour;Port;seen\r\n"Two\r\nlines";"Deux\r\nlignes";\r\nNot here;Ailleurs;\r\nYou;;\r\n';
  expect(await readTranslations(csv, textsOf(['Harbour', 'Two\nlines', 'You']))).toEqual({
    found: { Harbour: 'Port', 'Two\nlines': 'Deux\nlignes' },
    others: 1,
  });
});

test('a file that is no table of texts is refused in words', async () => {
  for (const wrong of ['', 'one column\nonly', '"never closed'])
    await expect(readTranslations(wrong, textsOf(['Harbour']))).rejects.toThrow('This is no CSV with a text');
});
