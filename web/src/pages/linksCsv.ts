import type { PersonalLinkView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { stringify } from 'csv-stringify/browser/esm/sync';
import { toString as toSvg } from 'qrcode';

/** A mark before what a spreadsheet would take for a formula. */
const guarded = (text: string): string => (/^'?[=+\-@\t\r]|^''/.test(text) ? `'${text}` : text);

/** Personal links as CSV with their addresses and QR codes (SVG), for a mail merge or for printing. */
export async function linksCsv(
  links: readonly PersonalLinkView[],
  addressOf: (token: string) => string,
): Promise<string> {
  const rows = [
    [say('Link'), say('For'), say('State'), say('Until'), say('Answers'), say('Address'), say('QR code (SVG)')],
  ];
  for (const one of links) {
    const address = addressOf(one.token);
    const svg = one.state === 'open' ? await toSvg(address, { type: 'svg', margin: 2 }) : '';
    rows.push([
      `L-${one.id}`,
      one.title,
      one.state,
      one.until ?? '',
      String(one.answers),
      one.state === 'open' ? address : '',
      svg.trim(),
    ]);
  }
  return stringify(
    rows.map((row) => row.map(guarded)),
    { bom: true, record_delimiter: 'windows', quoted_match: /[\r\n]/ },
  );
}
