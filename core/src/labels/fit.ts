import { POINTS_A_MM } from '../print/index.ts';
import type { LabelLayout, LabelLine } from './layout.ts';

/** Type sizes in points. */
export const LINE_POINTS: Readonly<Record<LabelLine['size'], number>> = { small: 8, normal: 10.5, large: 14 };
/** What a line takes of its height, in times its size. */
export const LINE_HEIGHT = 1.2;
/** Between the edge of a label and what stands on it, in millimetres. */
export const LABEL_PADDING = 2.5;
/** Letters smaller than this are not read at arm’s length. */
const LEAST_POINTS = 6;
/** How wide a text is at one point of size. */
export type Measure = (text: string, bold: boolean) => number;

/** A line of a label as it is drawn: smaller than wanted where it would not fit, cut where that is not enough. */
export interface DrawnLine {
  readonly text: string;
  readonly points: number;
  readonly bold: boolean;
  /** Something of it was left out. */
  readonly cut: boolean;
}

/** The side of the QR code on a label, in millimetres; 0 without one. */
export const qrSide = ({ sheet, qr }: LabelLayout): number =>
  qr ? Math.min(sheet.height - 2 * LABEL_PADDING, sheet.width / 3, 30) : 0;

/** How wide the text of a label can be, in points. */
const roomFor = (layout: LabelLayout): number => {
  const side = qrSide(layout);
  return (layout.sheet.width - 2 * LABEL_PADDING - (side > 0 ? side + LABEL_PADDING : 0)) * POINTS_A_MM;
};

/**
 * Fits the lines of one label: blank ones are left out and leave no gap, long ones are drawn smaller and then cut with `…`, and
 * where all together are too high each is drawn smaller. `omitted` is how many lines did not fit at all.
 */
export function fitLines(
  layout: LabelLayout,
  texts: readonly string[],
  measure: Measure,
): { readonly lines: readonly DrawnLine[]; readonly omitted: number } {
  const written = layout.lines.flatMap((line, at) => {
    // An address of several lines takes as many on the label.
    const parts = (texts[at] ?? '').split('\n').map((text) => text.replace(/\s+/g, ' ').trim());
    return parts.flatMap((text) => (text === '' ? [] : [{ ...line, text }]));
  });
  const height = (layout.sheet.height - 2 * LABEL_PADDING) * POINTS_A_MM;
  const wanted = written.reduce((sum, line) => sum + LINE_POINTS[line.size] * LINE_HEIGHT, 0);
  const scale = Math.min(1, height / Math.max(wanted, 1));
  const room = roomFor(layout);
  const lines: DrawnLine[] = [];
  let used = 0;
  for (const line of written) {
    const most = Math.max(LEAST_POINTS, LINE_POINTS[line.size] * scale);
    const drawn = fitLine(line, most, room, measure);
    used += drawn.points * LINE_HEIGHT;
    if (used > height + 0.5) break;
    lines.push(drawn);
  }
  return { lines, omitted: written.length - lines.length };
}

function fitLine(
  { text, bold }: { text: string; bold: boolean },
  most: number,
  room: number,
  measure: Measure,
): DrawnLine {
  const width = measure(text, bold);
  const points = Math.max(LEAST_POINTS, Math.min(most, room / Math.max(width, 0.001)));
  if (width * points <= room + 0.01) return { text, points, bold, cut: false };
  const letters = [...text];
  let [least, tooMany] = [0, letters.length];
  // The longest beginning that fits with the mark of what is left out.
  while (tooMany - least > 1) {
    const middle = Math.floor((least + tooMany) / 2);
    if (measure(`${letters.slice(0, middle).join('')}…`, bold) * points <= room) least = middle;
    else tooMany = middle;
  }
  return { text: `${letters.slice(0, least).join('').trimEnd()}…`, points, bold, cut: true };
}
