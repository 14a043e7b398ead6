import type { FileCell, FileFormat } from './format.ts';

/** Characters that no XML 1.0 document can hold (Char in W3C XML 1.0, 2.2), and halves of pairs. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is looked for.
const NO_XML = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g;

/** Text as XML writes it; a carriage return by its number, since readers make a line feed of it otherwise. */
export const xmlText = (text: string): string =>
  text
    .toWellFormed()
    .replace(NO_XML, '\ufffd')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')
    .replaceAll('\r', '&#13;');

function elementOf(key: string, cell: FileCell): string {
  if (cell === null) return '';
  const inner =
    typeof cell === 'object'
      ? cell.map((one) => `<item>${xmlText(String(one))}</item>`).join('')
      : xmlText(typeof cell === 'boolean' ? (cell ? 'yes' : 'no') : String(cell));
  return `<${key}>${inner}</${key}>`;
}

/** XML 1.0: an element for each record, in it one for each value that is not blank, several values as items. */
export const xml: FileFormat = {
  type: 'application/xml',
  ending: 'xml',
  async *write({ title, columns }, pages) {
    yield `<?xml version="1.0" encoding="UTF-8"?>\n<records of="${xmlText(title)}">\n`;
    for await (const rows of pages)
      yield rows
        .map(
          ({ cells }) =>
            `<record>${columns.map(({ key }, at) => elementOf(key, cells[at] ?? null)).join('')}</record>\n`,
        )
        .join('');
    yield '</records>\n';
  },
};
