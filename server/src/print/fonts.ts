import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Content } from 'pdfmake/interfaces.js';

const require = createRequire(import.meta.url);

/** A family whose files hold the letters of some scripts each, with the ranges of each file. */
interface Family {
  readonly name: string;
  readonly weight: { readonly normal: number; readonly bold: number };
}
const SANS: Family = { name: 'source-sans-3', weight: { normal: 400, bold: 600 } };
const SERIF: Family = { name: 'source-serif-4', weight: { normal: 600, bold: 600 } };

/** Plain letters first: what stands in several files is taken from there. A family may have no file for some of them. */
const SCRIPTS = ['latin', 'latin-ext', 'greek', 'cyrillic', 'vietnamese', 'greek-ext', 'cyrillic-ext'];

const fontName = ({ name }: Family, script: string): string => `${name} ${script}`;
export const TEXT_FONT = fontName(SANS, 'latin');

/** The scripts of a family, each with its characters, out of the ranges that the fonts come with (CSS unicode-range). */
function rangesOf({ name }: Family): readonly (readonly [string, RegExp])[] {
  const ranges = JSON.parse(readFileSync(require.resolve(`@fontsource/${name}/unicode.json`), 'utf8')) as Record<
    string,
    string
  >;
  return SCRIPTS.flatMap((script) => {
    const parts = ranges[script]?.split(',').map((range) =>
      range
        .trim()
        .replace('U+', '')
        .split('-')
        .map((hex) => `\\u{${hex}}`)
        .join('-'),
    );
    return parts ? [[script, new RegExp(`[${parts.join('')}]`, 'u')] as const] : [];
  });
}
const RANGES = new Map([SANS, SERIF].map((family) => [family, rangesOf(family)]));

/** The fonts that ship with the application, as pdfmake wants them. */
export const FONTS = Object.fromEntries(
  [...RANGES].flatMap(([family, ranges]) =>
    ranges.map(([script]) => {
      const file = (weight: number): string =>
        require.resolve(`@fontsource/${family.name}/files/${family.name}-${script}-${weight}-normal.woff`);
      const [normal, bold] = [file(family.weight.normal), file(family.weight.bold)];
      return [fontName(family, script), { normal, bold, italics: normal, bolditalics: bold }];
    }),
  ),
);

/** The font of a family that has a character; that of plain letters for one that no file has, which is shown as a box. */
const fontFor = (character: string, family: Family): string =>
  fontName(family, RANGES.get(family)?.find(([, range]) => range.test(character))?.[0] ?? 'latin');

/** The file that has a character of the text face. */
export const fontFiles = (character: string, bold: boolean): string => {
  const font = FONTS[fontFor(character, SANS)];
  if (!font) throw new Error('There is no font for texts');
  return bold ? font.bold : font.normal;
};

/** Text in parts, each in the file that has its letters. */
function inParts(text: string, family: Family): { text: string; font: string }[] {
  const parts: { text: string; font: string }[] = [];
  for (const character of text.replaceAll('\t', '    ')) {
    const font = fontFor(character === '\n' ? ' ' : character, family);
    const last = parts.at(-1);
    if (last?.font === font) last.text += character;
    else parts.push({ text: character, font });
  }
  return parts;
}

/** A paragraph of text for a document. */
export const textOf = (text: string, style: object = {}): Content => ({ text: inParts(text, SANS), ...style });

/** The title of a document, in the face of titles. */
export const titleOf = (text: string, style: object = {}): Content => ({ text: inParts(text, SERIF), ...style });
