import { readFileSync } from 'node:fs';
import type { Measure } from '@fiche/core/labels';
import { create } from 'fontkit';
import { fontFiles } from './fonts.ts';

/** Widths of characters at one point of size, by file and character. */
const widths = new Map<string, number>();
const fonts = new Map<string, ReturnType<typeof create>>();

function widthOf(character: string, file: string): number {
  const key = `${file} ${character}`;
  const known = widths.get(key);
  if (known !== undefined) return known;
  const font = fonts.get(file) ?? create(readFileSync(file));
  fonts.set(file, font);
  if (!('unitsPerEm' in font)) throw new Error(`${file} is no font`);
  const width = (font.glyphForCodePoint(character.codePointAt(0) ?? 32).advanceWidth ?? 0) / font.unitsPerEm;
  widths.set(key, width);
  return width;
}

/** How wide a text is in the face of labels, at one point of size: letter by letter, which is never too little. */
export const measureText: Measure = (text, bold) => {
  let width = 0;
  for (const character of text) width += widthOf(character, fontFiles(character, bold));
  return width;
};
