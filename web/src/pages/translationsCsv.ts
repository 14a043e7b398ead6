import type { PageText } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';

/**
 * The texts of a page with what they are in a language, as CSV for a translator: a line for each, the text as it is written and
 * its translation.
 */
export async function translationsCsv(
  texts: readonly PageText[],
  given: Readonly<Record<string, string>>,
  language: string,
): Promise<string> {
  const { stringify } = await import('csv-stringify/browser/esm/sync');
  const rows = [['text', language], ...texts.map(({ text }) => [text, given[text] ?? ''])];
  return stringify(rows, { bom: true, record_delimiter: 'windows', quoted_match: /[\r\n]/ });
}

/**
 * Reads what a translator sent back: the translations of texts that are on the page, and how many lines are about none of them.
 * Throws, in words, for a file without two columns.
 */
export async function readTranslations(
  csv: string,
  texts: readonly PageText[],
): Promise<{ readonly found: Readonly<Record<string, string>>; readonly others: number }> {
  const { parse } = await import('csv-parse/browser/esm/sync');
  const wrong = say(
    'This is no CSV with a text and its translation in each line. Take the texts away as CSV and fill in the second column.',
  );
  let rows: string[][];
  try {
    // The mark after the first heading is that of the file: spreadsheets of some countries write another one.
    const delimiter = /^\uFEFF?"?text"?([,;\t])/i.exec(csv)?.[1] ?? ',';
    rows = parse(csv, { bom: true, delimiter, relax_column_count: true, skip_empty_lines: true });
  } catch {
    throw new Error(wrong);
  }
  if (rows.length === 0 || rows.every((row) => row.length < 2)) throw new Error(wrong);
  const known = new Set(texts.map(({ text }) => text));
  // Spreadsheets write line feeds of cells in their own way.
  const same = (text: string): string => text.replaceAll('\r\n', '\n');
  const lines = rows.slice(1).map(([text = '', said = '']) => ({ text: same(text), said: same(said).trim() }));
  return {
    found: Object.fromEntries(
      lines.filter(({ text, said }) => known.has(text) && said !== '').map(({ text, said }) => [text, said]),
    ),
    others: lines.filter(({ text }) => !known.has(text)).length,
  };
}
