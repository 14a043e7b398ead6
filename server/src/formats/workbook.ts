import { strToU8, Zip, ZipDeflate } from 'fflate';
import { cellAsText } from './csv.ts';
import type { FileCell, FileColumn, FileFormat, FileRow } from './format.ts';
import { xmlText } from './xml.ts';

// Office Open XML (ECMA-376), SpreadsheetML, written row by row as the rows come: the packages that write workbooks and are kept
// up to date hold all of their rows in memory, which a million records do not allow.

/** Rows that fit in one sheet, the row of names among them (ECMA-376, as spreadsheets hold it). */
const SHEET_ROWS = 1_048_576;
/** Characters that fit in one cell; what is longer says so at its end. */
const CELL_MOST = 32_767;
const CUT = ' … (cut: longer than a cell of a workbook can be)';
const DAY_MS = 86_400_000;
/** Day 0 of the 1900 date system, from which its days are counted. */
const DAY_ZERO = Date.UTC(1899, 11, 30);
const MOST_PLACES = 6;

/** Places in the list of styles below. */
const [PLAIN, BOLD, DATE, TIME, DATE_TIME, FIRST_PLACES] = [0, 1, 2, 3, 4, 5];

const HEADER = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const RELATIONS = 'http://schemas.openxmlformats.org/package/2006/relationships';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const CONTENT = 'application/vnd.openxmlformats-officedocument.spreadsheetml';

const numberFormats = [
  'yyyy-mm-dd',
  'hh:mm',
  'yyyy-mm-dd hh:mm',
  ...Array.from({ length: MOST_PLACES + 1 }, (_one, places) => (places === 0 ? '0' : `0.${'0'.repeat(places)}`)),
];
const STYLES = `${HEADER}<styleSheet xmlns="${MAIN}"><numFmts count="${numberFormats.length}">${numberFormats
  .map((code, at) => `<numFmt numFmtId="${164 + at}" formatCode="${code}"/>`)
  .join(
    '',
  )}</numFmts><fonts count="2"><font><sz val="11"/><name val="Calibri"/></font><font><b/><sz val="11"/><name val="Calibri"/></font></fonts><fills count="2"><fill><patternFill patternType="none"/></fill><fill><patternFill patternType="gray125"/></fill></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="${numberFormats.length + 2}"><xf xfId="0"/><xf xfId="0" fontId="1" applyFont="1"/>${numberFormats
  .map((_code, at) => `<xf xfId="0" numFmtId="${164 + at}" applyNumberFormat="1"/>`)
  .join('')}</cellXfs></styleSheet>`;

/** Days since day 0 of a date, or of a date and time; undefined before 1 March 1900, which spreadsheets count otherwise. */
function serialOf(text: string): number | undefined {
  const days = (Date.parse(text.length === 10 ? `${text}T00:00Z` : `${text}Z`) - DAY_ZERO) / DAY_MS;
  return days >= 61 ? days : undefined;
}

/** Characters that XML cannot hold, or does not keep. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is looked for.
const CONTROLS = /[\u0000-\u0008\u000b-\u001f]/g;

/** Text as a workbook holds it: what XML cannot hold as `_x000B_`, and what only looks so with its `_` written out (ECMA-376, ST_Xstring). */
const cellText = (text: string): string =>
  xmlText(
    text
      .replace(/_(?=x[0-9a-f]{4}_)/gi, '_x005F_')
      .replace(CONTROLS, (one) => `_x${one.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}_`),
  );

/** The letters of a column, counted from 0: A, …, Z, AA (ECMA-376 leaves them out where it can; readers do not). */
const lettersOf = (column: number): string =>
  (column < 26 ? '' : lettersOf(Math.floor(column / 26) - 1)) + String.fromCharCode(65 + (column % 26));

const textCell = (at: string, text: string, style = PLAIN): string => {
  const kept = text.length <= CELL_MOST ? text : `${text.slice(0, CELL_MOST - CUT.length).toWellFormed()}${CUT}`;
  return `<c r="${at}" t="inlineStr"${style === PLAIN ? '' : ` s="${style}"`}><is><t xml:space="preserve">${cellText(kept)}</t></is></c>`;
};
const numberCell = (at: string, value: number, style: number | undefined): string =>
  `<c r="${at}"${style === undefined ? '' : ` s="${style}"`}><v>${value}</v></c>`;

function cellXml(at: string, cell: FileCell, { holds, places }: FileColumn): string {
  if (cell === null) return '';
  if (typeof cell === 'number')
    return numberCell(at, cell, places === undefined ? undefined : FIRST_PLACES + Math.min(places, MOST_PLACES));
  if (typeof cell === 'boolean') return `<c r="${at}" t="b"><v>${cell ? 1 : 0}</v></c>`;
  if (typeof cell === 'string' && holds === 'time') {
    const [hours = 0, minutes = 0] = cell.split(':').map(Number);
    return numberCell(at, (hours * 60 + minutes) / 1_440, TIME);
  }
  if (typeof cell === 'string' && (holds === 'date' || holds === 'dateTime')) {
    const serial = serialOf(cell);
    if (serial !== undefined) return numberCell(at, serial, holds === 'date' ? DATE : DATE_TIME);
  }
  return textCell(at, cellAsText(cell, holds));
}

/** A row of a sheet, counted from 1. */
const rowXml = (columns: readonly LetteredColumn[], { cells }: FileRow, row: number): string =>
  `<row r="${row}">${columns.map((column, at) => cellXml(`${column.letters}${row}`, cells[at] ?? null, column)).join('')}</row>`;

type LetteredColumn = FileColumn & { readonly letters: string };

/** About how many characters wide a column is shown. */
const widthOf = ({ label, holds }: FileColumn): number =>
  Math.min(40, Math.max(label.length + 2, holds === 'dateTime' ? 17 : holds === 'text' || holds === 'list' ? 20 : 11));

const sheetHead = (columns: readonly LetteredColumn[]): string =>
  `${HEADER}<worksheet xmlns="${MAIN}"><sheetViews><sheetView workbookViewId="0"><pane ySplit="1" topLeftCell="A2" activePane="bottomLeft" state="frozen"/></sheetView></sheetViews><cols>${columns
    .map((column, at) => `<col min="${at + 1}" max="${at + 1}" width="${widthOf(column)}" customWidth="1"/>`)
    .join(
      '',
    )}</cols><sheetData><row r="1">${columns.map((column) => textCell(`${column.letters}1`, column.label, BOLD)).join('')}</row>`;

/** A name that a sheet can have: at most 31 characters, none of `[]:*?/\`. */
const sheetName = (title: string, number: number): string => {
  const plain = title.replace(/[[\]:*?/\\']/g, ' ').trim() || 'Records';
  const tail = number === 1 ? '' : ` ${number}`;
  return `${plain.slice(0, 31 - tail.length)}${tail}`;
};

/** The small files around the sheets, which say what they are. */
function packageParts(title: string, sheets: number): Record<string, string> {
  const numbers = Array.from({ length: sheets }, (_one, at) => at + 1);
  return {
    '[Content_Types].xml': `${HEADER}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="${CONTENT}.sheet.main+xml"/><Override PartName="/xl/styles.xml" ContentType="${CONTENT}.styles+xml"/>${numbers.map((n) => `<Override PartName="/xl/worksheets/sheet${n}.xml" ContentType="${CONTENT}.worksheet+xml"/>`).join('')}</Types>`,
    '_rels/.rels': `${HEADER}<Relationships xmlns="${RELATIONS}"><Relationship Id="rId1" Type="${OFFICE}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    'xl/workbook.xml': `${HEADER}<workbook xmlns="${MAIN}" xmlns:r="${OFFICE}"><sheets>${numbers.map((n) => `<sheet name="${xmlText(sheetName(title, n))}" sheetId="${n}" r:id="rId${n}"/>`).join('')}</sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': `${HEADER}<Relationships xmlns="${RELATIONS}">${numbers.map((n) => `<Relationship Id="rId${n}" Type="${OFFICE}/worksheet" Target="worksheets/sheet${n}.xml"/>`).join('')}<Relationship Id="rId${sheets + 1}" Type="${OFFICE}/styles" Target="styles.xml"/></Relationships>`,
    'xl/styles.xml': STYLES,
  };
}

/** A zip whose files are written one after another; `taken` gives what has been compressed since it was last asked. */
function zipStream() {
  let chunks: Uint8Array[] = [];
  const zip = new Zip((error, chunk) => {
    if (error) throw error;
    chunks.push(chunk);
  });
  return {
    open(name: string): ZipDeflate {
      const file = new ZipDeflate(name, { level: 3 });
      zip.add(file);
      return file;
    },
    end: () => zip.end(),
    taken(): Uint8Array[] {
      const now = chunks;
      chunks = [];
      return now;
    },
  };
}

/** A workbook: a sheet with a frozen row of names, numbers and dates as such, texts never as formulas; more sheets where one is full. */
export const workbook: FileFormat = {
  type: `${CONTENT}.sheet`,
  ending: 'xlsx',
  async *write({ title, columns: named }, pages) {
    const columns = named.map((column, at) => ({ ...column, letters: lettersOf(at) }));
    const zip = zipStream();
    let sheets = 1;
    let sheet = zip.open('xl/worksheets/sheet1.xml');
    sheet.push(strToU8(sheetHead(columns)));
    let rows = 1;
    const close = (): void => sheet.push(strToU8('</sheetData></worksheet>'), true);
    for await (const page of pages) {
      for (let at = 0; at < page.length; ) {
        if (rows === SHEET_ROWS) {
          close();
          sheet = zip.open(`xl/worksheets/sheet${++sheets}.xml`);
          sheet.push(strToU8(sheetHead(columns)));
          rows = 1;
        }
        const some = page.slice(at, at + SHEET_ROWS - rows);
        sheet.push(strToU8(some.map((row, n) => rowXml(columns, row, rows + n + 1)).join('')));
        at += some.length;
        rows += some.length;
      }
      yield* zip.taken();
    }
    close();
    for (const [name, text] of Object.entries(packageParts(title, sheets))) zip.open(name).push(strToU8(text), true);
    zip.end();
    yield* zip.taken();
  },
};
