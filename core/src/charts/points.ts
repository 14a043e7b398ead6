import { scaleLinear, scaleSqrt } from 'd3-scale';
import { type AxisLine, type Drawing, type DrawingSize, type DrawnText, type PointMark, textWidth } from './drawing.ts';
import type { PointFigures } from './figures.ts';

/** How the two numbers read in words. */
export interface PointWords {
  x(value: number): string;
  y(value: number): string;
  /** What the axes are called. */
  readonly xLabel: string;
  readonly yLabel: string;
}

const BELOW = 40;
const ABOVE = 24;
const [SMALLEST, LARGEST] = [3, 11];

/** One circle for each cell that holds records, at their average; its area follows their number. */
export function drawPoints({ cells }: PointFigures, { width, height }: DrawingSize, words: PointWords): Drawing {
  const [xs, ys] = [cells.map((cell) => cell.x), cells.map((cell) => cell.y)];
  const y = scaleLinear(spread(ys), [height - BELOW - LARGEST, ABOVE + LARGEST]).nice(5);
  const yTicks = y.ticks(5).filter((tick) => words.y(tick) !== '');
  const left = Math.max(24, ...yTicks.map((tick) => textWidth(words.y(tick)))) + 10;
  const x = scaleLinear(spread(xs), [left + LARGEST, width - LARGEST - 4]).nice(6);
  const radius = scaleSqrt([1, Math.max(2, ...cells.map((cell) => cell.count))], [SMALLEST, LARGEST]);
  const marks = cells.map(
    (cell, at): PointMark => ({ shape: 'point', x: x(cell.x), y: y(cell.y), radius: radius(cell.count), cell: at }),
  );
  const grid = yTicks.map((tick): AxisLine => ({ kind: 'grid', from: [left, y(tick)], to: [width, y(tick)] }));
  const base: AxisLine = { kind: 'base', from: [left, height - BELOW], to: [width, height - BELOW] };
  const texts: DrawnText[] = [
    ...yTicks.map(
      (tick): DrawnText => ({ x: left - 6, y: y(tick) + 4, text: words.y(tick), anchor: 'end', kind: 'axis' }),
    ),
    ...x
      .ticks(Math.max(2, Math.floor(width / 90)))
      .filter((tick) => words.x(tick) !== '')
      .map(
        (tick): DrawnText => ({
          x: x(tick),
          y: height - BELOW + 16,
          text: words.x(tick),
          anchor: 'middle',
          kind: 'axis',
        }),
      ),
    { x: 0, y: 12, text: words.yLabel, anchor: 'start', kind: 'label' },
    { x: width, y: height - 4, text: words.xLabel, anchor: 'end', kind: 'label' },
  ];
  return { width, height, marks, lines: [...grid, base], texts, legend: [] };
}

/** The least and the most of some numbers; around a single one, something to either side. */
function spread(numbers: readonly number[]): [number, number] {
  if (numbers.length === 0) return [0, 1];
  const [least, most] = [Math.min(...numbers), Math.max(...numbers)];
  const around = Math.abs(least) / 10 || 1;
  // What differs by less than a rounding is the same.
  return most - least <= around * 1e-9 ? [least - around, most + around] : [least, most];
}
