/** A chart as it is drawn: plain numbers in CSS px from the upper left corner, so that drawing itself computes nothing. */
export interface Drawing {
  readonly width: number;
  readonly height: number;
  readonly marks: readonly Mark[];
  readonly lines: readonly AxisLine[];
  readonly texts: readonly DrawnText[];
  /** What each shade stands for, where bars are divided. */
  readonly legend: readonly LegendEntry[];
}

export interface BarMark {
  readonly shape: 'bar';
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Which bar of the figures it is, and which part of it; null for a bar that is not divided. */
  readonly bar: number;
  readonly part: number | null;
}

export interface PointMark {
  readonly shape: 'point';
  readonly x: number;
  readonly y: number;
  readonly radius: number;
  /** Which cell of the figures it is. */
  readonly cell: number;
}

export type Mark = BarMark | PointMark;

export interface AxisLine {
  /** `base` is where values begin, `grid` a value between. */
  readonly kind: 'base' | 'grid';
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
}

export interface DrawnText {
  readonly x: number;
  readonly y: number;
  readonly text: string;
  readonly anchor: 'start' | 'middle' | 'end';
  /** `axis` texts are fainter than `label` texts. */
  readonly kind: 'axis' | 'label';
}

export interface LegendEntry {
  readonly part: number;
  /** Of its square. */
  readonly x: number;
  readonly y: number;
  readonly text: string;
}

export interface DrawingSize {
  readonly width: number;
  /** Of a chart whose height is free; bars for categories take what they need. */
  readonly height: number;
}

/** The height of the texts of a chart, in px. */
export const TEXT_PX = 12;
/** How wide a letter is against its height, on average, in the typeface of the application. */
const LETTER = 0.53;

/** About how wide a text is drawn, in px. */
export const textWidth = (text: string): number => text.length * TEXT_PX * LETTER;

/** A text that fits a width, shortened where it must be: `Gannet Qu…`. */
export function fitText(text: string, width: number): string {
  if (textWidth(text) <= width) return text;
  const letters = Math.max(1, Math.floor(width / (TEXT_PX * LETTER)) - 1);
  return `${text.slice(0, letters).trimEnd()}…`;
}

/** The side of the square of a shade, and the space around it. */
const SQUARE = 10;
const LEGEND_GAP = 14;
const LEGEND_LINE = 18;

/** The legend: the shades with their names, in rows from the top, and the height that they take. */
export function placeLegend(texts: readonly string[], width: number): { legend: LegendEntry[]; height: number } {
  const legend: LegendEntry[] = [];
  let [x, y] = [0, 0];
  for (const [part, whole] of texts.entries()) {
    const text = fitText(whole, Math.min(180, width - SQUARE - 6));
    const wide = SQUARE + 6 + textWidth(text);
    if (x > 0 && x + wide > width) [x, y] = [0, y + LEGEND_LINE];
    legend.push({ part, x, y, text });
    x += wide + LEGEND_GAP;
  }
  return { legend, height: texts.length === 0 ? 0 : y + LEGEND_LINE + 6 };
}
