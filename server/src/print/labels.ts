import type { LabelPreview, ListedRecord } from '@fiche/core/api';
import {
  type DrawnLine,
  fitLines,
  LABEL_PADDING,
  type LabelLayout,
  LINE_HEIGHT,
  labelPaths,
  labelProblems,
  labelsOnSheet,
  labelTexts,
  placeOnSheet,
  qrSide,
  RECORD_PLACE,
} from '@fiche/core/labels';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { PAPERS, POINTS_A_MM } from '@fiche/core/print';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import { columnAt, listedText } from '@fiche/core/views';
import type { Content } from 'pdfmake/interfaces.js';
import QRCode from 'qrcode';
import { Refusal, unacceptable } from '../http/index.ts';
import { listRows } from '../views/index.ts';
import { TEXT_FONT, textOf } from './fonts.ts';
import type { ListReading } from './list.ts';
import { measureText } from './measure.ts';
import { INK, type PrintedDocument } from './pageStyle.ts';

/** Labels that are printed at once. */
const MOST_LABELS = 5_000;
const STEP = 1_000;

/** One label: its record, its lines as they fit, and whether something of it does not. */
interface Label {
  readonly record: number;
  readonly lines: readonly DrawnLine[];
  readonly misfits: boolean;
}

export interface LabelsWanted {
  readonly layout: LabelLayout;
  /** The first label of the first sheet that is still there, counted from 1. */
  readonly start: number;
}

/** The labels of records in the order of their list, at most `most` of them, and how many there are. Throws 422 for too many. */
async function labelsOf(
  { database, tables, table, query, reader }: ListReading,
  { layout }: Pick<LabelsWanted, 'layout'>,
  most: number,
): Promise<{ labels: Label[]; total: number }> {
  const columns = labelPaths(layout).flatMap((path) => columnAt(tables, table.id, path) ?? []);
  const [first] = table.fields;
  const paths = columns.length > 0 ? columns.map(({ path }) => path) : [first?.id ?? 'created_at'];
  const listing = { ...query.listing, columns: paths.map((path) => ({ path })), group: null };
  const byPath = new Map(columns.map((column) => [column.path, column]));
  const labelOf = (record: ListedRecord): Label => {
    const read = (path: string): string => {
      const column = byPath.get(path);
      return path === RECORD_PLACE ? record.title : column ? listedText(record, column) : '';
    };
    const { lines, omitted } = fitLines(layout, labelTexts(layout, read), measureText);
    return { record: record.id, lines, misfits: omitted > 0 || lines.some((line) => line.cut) };
  };
  const labels: Label[] = [];
  let total = 0;
  let after: string | undefined;
  do {
    const limit = Math.min(STEP, most - labels.length);
    const page = await listRows(database, tables, table, { ...query, listing, after, limit }, reader);
    if (page.total !== null) total = page.total;
    if (total > MOST_LABELS)
      throw new Refusal(
        422,
        say('These are {total} labels; at most {mostLabels} are printed at once. Filter the list first.', {
          total: formatCount(total),
          mostLabels: formatCount(MOST_LABELS),
        }),
      );
    labels.push(...page.records.map(labelOf));
    after = page.after ?? undefined;
  } while (after !== undefined && labels.length < most);
  return { labels, total };
}

/** Checks that labels read what is there, and what the caller sees. Throws 422 at the line of each fault. */
export function requireLayout(tables: Tables, table: TableDefinition, layout: LabelLayout): void {
  const problems = labelProblems(layout, table, tables);
  if (problems.length > 0) throw unacceptable(problems.map((one) => ({ ...one, path: `layout.${one.path}` })));
}

/** The first sheet of labels as it would be printed. Throws 422 for a start that is not on the sheet. */
export async function previewOf(reading: ListReading, wanted: LabelsWanted): Promise<LabelPreview> {
  const onSheet = labelsOnSheet(wanted.layout.sheet);
  const skipped = startOf(wanted) - 1;
  const { labels, total } = await labelsOf(reading, wanted, onSheet - skipped);
  return {
    labels: labels.map(({ record, lines, misfits }, at) => ({
      record,
      place: skipped + at,
      lines: [...lines],
      misfits,
    })),
    total,
    sheets: Math.ceil((skipped + total) / onSheet),
    misfits: labels.filter((label) => label.misfits).length,
  };
}

/** Checks that labels can be printed. Throws 422 for fields that are not there, a start that is not on the sheet, none or too many. */
export async function requireLabels(reading: ListReading, wanted: LabelsWanted): Promise<void> {
  requireLayout(reading.tables, reading.table, wanted.layout);
  startOf(wanted);
  const { labels } = await labelsOf(reading, wanted, 1);
  if (labels.length === 0)
    throw new Refusal(422, say('There are no records to print labels of. Change the filter of the list.'));
}

function startOf({ layout: { sheet }, start }: LabelsWanted): number {
  const most = labelsOnSheet(sheet);
  if (start > most)
    throw new Refusal(
      422,
      say('A sheet has {most} labels: begin at one of them, from 1 to {last}.', { most, last: most }),
    );
  return start;
}

/** Labels as a document, each at its place on its sheet; `addressOf` is where its code leads. */
export async function labelsDocument(
  reading: ListReading,
  wanted: LabelsWanted,
  addressOf: (record: number) => string,
): Promise<PrintedDocument> {
  const { layout } = wanted;
  const { sheet } = layout;
  const onSheet = labelsOnSheet(sheet);
  const first = startOf(wanted) - 1;
  const { labels } = await labelsOf(reading, wanted, MOST_LABELS);
  const content = labels.flatMap((label, at): Content[] => {
    const place = (first + at) % onSheet;
    const drawn = labelContent(layout, label, place, addressOf);
    // An empty paragraph carries the page break, since what has a place of its own takes none on the page.
    return place === 0 && at > 0 ? [{ text: '', pageBreak: 'before' }, ...drawn] : drawn;
  });
  const size = PAPERS[sheet.paper];
  return {
    foot: null,
    document: {
      pageSize: { width: size.width * POINTS_A_MM, height: size.height * POINTS_A_MM },
      pageMargins: 0,
      defaultStyle: { font: TEXT_FONT, color: INK, lineHeight: 1 },
      info: { title: `Labels of ${reading.table.label}`, creator: 'Fiche', producer: 'Fiche' },
      content,
    },
  };
}

function labelContent(
  layout: LabelLayout,
  { record, lines }: Label,
  place: number,
  addressOf: (record: number) => string,
): Content[] {
  const corner = placeOnSheet(layout.sheet, place);
  const x = (corner.x + LABEL_PADDING) * POINTS_A_MM;
  const height = lines.reduce((sum, line) => sum + line.points * LINE_HEIGHT, 0);
  // The lines stand in the middle of the label’s height.
  let y = corner.y * POINTS_A_MM + (layout.sheet.height * POINTS_A_MM - height) / 2;
  const content = lines.map(({ text, points, bold }): Content => {
    const drawn = textOf(text, { fontSize: points, bold, absolutePosition: { x, y }, noWrap: true });
    y += points * LINE_HEIGHT;
    return drawn;
  });
  const side = qrSide(layout);
  if (side === 0) return content;
  const at = {
    x: (corner.x + layout.sheet.width - LABEL_PADDING - side) * POINTS_A_MM,
    y: (corner.y + (layout.sheet.height - side) / 2) * POINTS_A_MM,
  };
  return [...content, { svg: codeOf(addressOf(record)), width: side * POINTS_A_MM, absolutePosition: at }];
}

/** A code as a drawing of the wanted size: pdfmake’s own ones are as large as whole points allow. */
function codeOf(address: string): string {
  const { data, size } = QRCode.create(address, { errorCorrectionLevel: 'M' }).modules;
  // Squares beside each other are one line: fewer to draw, and no hairlines between them.
  const lines = Array.from({ length: size }, (_one, y) =>
    [
      ...data
        .slice(y * size, (y + 1) * size)
        .join('')
        .matchAll(/1+/g),
    ].map(({ 0: { length }, index }) => `M${index} ${y}.5h${length}`),
  ).flat();
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${size} ${size}"><path stroke="${INK}" d="${lines.join('')}"/></svg>`;
}
