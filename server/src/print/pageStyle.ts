import { PAPERS, type Paper, POINTS_A_MM } from '@fiche/core/print';
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces.js';
import { TEXT_FONT, textOf, titleOf } from './fonts.ts';

// The colours of paper are those of the light scheme (LOOK.md), whatever the screen shows.
export const INK = '#1D2B33';
export const FADED = '#56656D';
export const RULE = '#C9D3D6';
const VERMILION = '#B93A22';
/** Behind what stands over rows: the colour of the page. */
export const GROUND = '#F4F2EC';
export const PLUM = '#6A3D6E';

/** The margins of a printed page, in points. */
export const MARGIN = 40;

/** The width of a page between its margins, in points. */
export const innerWidth = (paper: Paper, landscape: boolean): number =>
  (landscape ? PAPERS[paper].height : PAPERS[paper].width) * POINTS_A_MM - 2 * MARGIN;

/** A title over the head rule of a card, and what stands under it in small letters. */
export const headOf = (title: string, said: readonly string[], width: number): Content[] => [
  titleOf(title, { fontSize: 15, color: INK }),
  {
    canvas: [{ type: 'line', x1: 0, y1: 3, x2: width, y2: 3, lineWidth: 1.5, lineColor: VERMILION }],
    margin: [0, 0, 0, 4],
  },
  ...said.filter((one) => one !== '').map((one) => textOf(one, { color: FADED, fontSize: 8.5, margin: [0, 0, 0, 1] })),
];

/** A document with what stands at the foot of its pages. */
export interface PrintedDocument {
  readonly document: TDocumentDefinitions;
  /** What stands at the foot of each page, before its number; no foot where it is null. */
  readonly foot: string | null;
}

/** A document as it is sent to the thread that makes it. */
export interface PrintJob extends PrintedDocument {
  /** What tells the number of a page, with its places `{page}` and `{pages}`, in the language of whoever prints. */
  readonly pageWords: string;
}

/** A document on a paper, in its face. */
export function printJob(
  content: Content[],
  { paper, landscape, foot }: { readonly paper: Paper; readonly landscape: boolean; readonly foot: string },
): PrintedDocument {
  return {
    foot,
    document: {
      pageSize: paper === 'a4' ? 'A4' : 'LETTER',
      pageOrientation: landscape ? 'landscape' : 'portrait',
      pageMargins: [MARGIN, MARGIN, MARGIN, MARGIN + 8],
      defaultStyle: { font: TEXT_FONT, fontSize: 9.5, color: INK, lineHeight: 1.1 },
      info: { title: foot, creator: 'Fiche', producer: 'Fiche' },
      content,
    },
  };
}
