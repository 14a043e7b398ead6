import { say } from '../languages/index.ts';
/** How the bytes of a text file are to be read. */
export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

const starts = (bytes: Uint8Array, ...with_: number[]): boolean => with_.every((byte, at) => bytes[at] === byte);

/**
 * The encoding of a text, found by looking: a byte-order mark, zeros in every other place, or whether it is valid UTF-8;
 * else Windows-1252, which has no invalid text. `bytes` may be the first part of a file, cut anywhere.
 */
export function sniffEncoding(bytes: Uint8Array): Encoding {
  if (starts(bytes, 0xff, 0xfe)) return 'utf-16le';
  if (starts(bytes, 0xfe, 0xff)) return 'utf-16be';
  if (starts(bytes, 0xef, 0xbb, 0xbf)) return 'utf-8';
  const few = bytes.subarray(0, 1_000);
  const zeros = [0, 0];
  few.forEach((byte, at) => {
    if (byte === 0) zeros[at % 2] = (zeros[at % 2] ?? 0) + 1;
  });
  if ((zeros[1] ?? 0) > few.length / 4) return 'utf-16le';
  if ((zeros[0] ?? 0) > few.length / 4) return 'utf-16be';
  return isUtf8(bytes) ? 'utf-8' : 'windows-1252';
}

/** Whether bytes are UTF-8 (RFC 3629); a character cut off at the end counts as whole. */
function isUtf8(bytes: Uint8Array): boolean {
  for (let at = 0; at < bytes.length; ) {
    const first = bytes[at] ?? 0;
    const more =
      first < 0x80
        ? 0
        : first >= 0xc2 && first < 0xe0
          ? 1
          : first >= 0xe0 && first < 0xf0
            ? 2
            : first >= 0xf0 && first < 0xf5
              ? 3
              : -1;
    if (more < 0) return false;
    for (let n = 1; n <= more && at + n < bytes.length; n++) if (((bytes[at + n] ?? 0) & 0xc0) !== 0x80) return false;
    at += more + 1;
  }
  return true;
}

export type FileKind = 'csv' | 'xlsx' | 'json' | 'jsonl' | 'xml';

/** What a file is by its content, whatever its name says; or why it cannot be read, and what to do. */
export function sniffKind(bytes: Uint8Array, text: string): { readonly kind: FileKind } | { readonly wrong: string } {
  if (bytes.length === 0) return { wrong: say('This file is empty. Choose one that has rows.') };
  if (starts(bytes, 0x50, 0x4b, 0x03, 0x04)) return { kind: 'xlsx' };
  if (starts(bytes, 0xd0, 0xcf, 0x11, 0xe0))
    return {
      wrong: say(
        'This is an old spreadsheet (.xls) or a protected one. Save it as .xlsx or CSV without a password, then choose it again.',
      ),
    };
  if (starts(bytes, 0x25, 0x50, 0x44, 0x46))
    return { wrong: say('This is a PDF, not a table. Save the table as CSV or XLSX.') };
  if (starts(bytes, 0x89, 0x50, 0x4e, 0x47) || starts(bytes, 0xff, 0xd8, 0xff) || starts(bytes, 0x1f, 0x8b))
    return { wrong: say('This is a picture or a packed file, not a table. Choose a CSV, XLSX, JSON or XML file.') };
  const plain = text.replace(/^\ufeff/, '').trimStart();
  if (plain === '') return { wrong: say('This file is empty. Choose one that has rows.') };
  // biome-ignore lint/suspicious/noControlCharactersInRegex: what no text has shows that it is none.
  if (/[\u0000-\u0008\u000e-\u001a]/.test(plain.slice(0, 4_000)))
    return { wrong: say('This is not a text or a spreadsheet. Choose a CSV, XLSX, JSON or XML file.') };
  if (plain.startsWith('[')) return { kind: 'json' };
  if (plain.startsWith('{')) return { kind: /^\{[^\n]*\}\s*\n\s*\{/.test(plain) ? 'jsonl' : 'json' };
  if (/^<(!DOCTYPE\s+html|html)\b/i.test(plain))
    return { wrong: say('This is a web page, not a table. Save the table as CSV, XLSX or XML.') };
  if (/^<(\?xml\s|!--|!DOCTYPE\s|[A-Za-z_][\w:.-]*[\s/>])/.test(plain)) return { kind: 'xml' };
  return { kind: 'csv' };
}

/** How a delimited text is parsed, the same wherever it is read. A file that several programs wrote has lines of several ends. */
export const CSV_PARSING = {
  bom: true,
  record_delimiter: ['\r\n', '\n', '\r'],
  relax_column_count: true,
  relax_quotes: true,
};

const SEPARATORS = [',', ';', '\t', '|'] as const;

/**
 * The separator of a delimited text: the one that divides its first lines into the most columns alike. Marks inside
 * quotes do not count. A comma when there is only one column.
 */
export function sniffSeparator(text: string): string {
  const lines = unquotedLines(text).slice(0, 50);
  let best: { separator: string; score: number } = { separator: ',', score: 0 };
  for (const separator of SEPARATORS) {
    const counts = lines.map((line) => line.split(separator).length - 1);
    const most = Math.max(0, ...counts);
    const usual = counts.filter((count) => count === commonest(counts.filter((one) => one > 0))).length;
    const score = most === 0 ? 0 : (usual / lines.length) * 100 + Math.min(most, 50);
    if (score > best.score) best = { separator, score };
  }
  return best.separator;
}

function commonest(counts: readonly number[]): number {
  const seen = new Map<number, number>();
  for (const count of counts) seen.set(count, (seen.get(count) ?? 0) + 1);
  return [...seen].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 0;
}

/** The lines of a delimited text with what stands in quotes taken out, line breaks included. */
const unquotedLines = (text: string): string[] =>
  text
    .replace(/"(?:[^"]|"")*"/g, '""')
    .split(/\r\n|\r|\n/)
    .filter((line) => line.trim() !== '');
