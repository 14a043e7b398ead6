import { say } from '@fiche/core/languages';
import type { Paper, PrintedBlock, PrintedCard } from '@fiche/core/print';
import type { Content, TableCell } from 'pdfmake/interfaces.js';
import { textOf } from './fonts.ts';
import { FADED, headOf, innerWidth, PLUM, type PrintedDocument, printJob } from './pageStyle.ts';
import { BOXED, ruledTable } from './ruledTable.ts';

/** What a box has around its cell. */
const BOX_PADDING = 9;
/** Values stand in so many columns at most. */
const MOST_COLUMNS = 3;

/** A record as a document: its form’s sections with labels over values, lines as tables, reference cards, its stamp. */
export function cardDocument(card: PrintedCard, paper: Paper): PrintedDocument {
  const width = innerWidth(paper, false);
  const said = [card.asOf === '' ? card.of : say('{of} · as it stood {asOf}', { of: card.of, asOf: card.asOf })];
  const content = [
    ...headOf(card.title, said, width),
    { text: ' ', fontSize: 4 },
    ...card.sections.flatMap((section) => sectionOf(section, width)),
    ...(card.stamp === '' ? [] : [textOf(card.stamp, { color: PLUM, fontSize: 8, margin: [0, 12, 0, 0] })]),
  ];
  return printJob(content, { paper, landscape: false, foot: `${card.of}: ${card.title}` });
}

type PrintedLines = Extract<PrintedBlock, { kind: 'lines' }>;

function sectionOf({ label, columns, blocks }: PrintedCard['sections'][number], width: number): Content[] {
  const head: Content[] =
    label === '' ? [] : [textOf(label, { bold: true, fontSize: 10.5, margin: [0, 10, 0, 3], headlineLevel: 1 })];
  const content: Content[] = [];
  let row: Extract<PrintedBlock, { kind: 'field' }>[] = [];
  const most = Math.min(columns, MOST_COLUMNS);
  const close = (): void => {
    if (row.length > 0) content.push(fieldsRow(row, most, width));
    row = [];
  };
  for (const block of blocks) {
    if (block.kind === 'field' && !block.wide) {
      row.push(block);
      if (row.length === most) close();
      continue;
    }
    close();
    // Lines that are called like their section need no heading of their own.
    content.push(
      ...(block.kind === 'lines' && block.label === label ? linesTable(block, width) : blockOf(block, width)),
    );
  }
  close();
  return [...head, ...content];
}

/** A few values side by side, each with its label above it. */
function fieldsRow(fields: readonly Extract<PrintedBlock, { kind: 'field' }>[], most: number, width: number): Content {
  return {
    columns: fields.map((field) => ({ width: (width - 12 * (most - 1)) / most, stack: fieldStack(field) })),
    columnGap: 12,
    margin: [0, 0, 0, 5],
    unbreakable: true,
  } as Content;
}

const fieldStack = ({ label, value }: { readonly label: string; readonly value: string }): Content[] => [
  textOf(label, { color: FADED, fontSize: 8 }),
  textOf(value === '' ? '–' : value, value === '' ? { color: FADED } : {}),
];

function blockOf(block: PrintedBlock, width: number): Content[] {
  switch (block.kind) {
    case 'field':
      return [{ stack: fieldStack(block), margin: [0, 0, 0, 5] }];
    case 'heading':
      return [textOf(block.text, { bold: true, margin: [0, 6, 0, 2] })];
    case 'note':
      return [textOf(block.text, { color: FADED, margin: [0, 0, 0, 4] })];
    case 'card':
      return [referenceOf(block, width)];
    case 'lines':
      return linesOf(block, width);
  }
}

function referenceOf({ label, title, facts }: Extract<PrintedBlock, { kind: 'card' }>, width: number): Content {
  const third = (width - 52) / 3;
  const cells = facts.map((fact) => ({ width: third, stack: fieldStack(fact), margin: [0, 0, 0, 3] }) as Content);
  const rows: Content[] = [];
  for (let at = 0; at < cells.length; at += 3)
    rows.push({ columns: cells.slice(at, at + 3), columnGap: 12 } as Content);
  const cell: TableCell = {
    stack: [
      {
        columns: [textOf(label, { color: FADED, width: 'auto', fontSize: 8 }), textOf(title, { bold: true })],
        columnGap: 6,
        margin: [0, 0, 0, 3],
      } as Content,
      ...rows,
    ],
    margin: [6, 4, 6, 2],
  };
  return {
    table: { widths: [width - BOX_PADDING], body: [[cell]], dontBreakRows: true },
    layout: BOXED,
    margin: [0, 2, 0, 8],
  };
}

function linesOf(block: PrintedLines, width: number): Content[] {
  return [textOf(block.label, { bold: true, margin: [0, 8, 0, 2], headlineLevel: 1 }), ...linesTable(block, width)];
}

function linesTable({ columns, rows }: PrintedLines, width: number): Content[] {
  if (rows.length === 0) return [textOf('None.', { color: FADED })];
  const ruled = rows.map((cells) => ({ kind: 'row' as const, cells }));
  return [ruledTable(columns, ruled, width)];
}
