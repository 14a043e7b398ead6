import { scaleLinear } from 'd3-scale';
import {
  type AxisLine,
  type BarMark,
  type Drawing,
  type DrawnText,
  fitText,
  placeLegend,
  textWidth,
} from './drawing.ts';
import type { BarFigures } from './figures.ts';
import { extentOf, stackBars } from './stacks.ts';
import type { BarWords } from './timeBars.ts';

/** The height of one bar with the space to the next, in px. */
const ROW = 24;
const BAR = 16;
/** What names a bar takes at most so much of the width. */
const NAMES = 0.36;

/** One bar below the other, each with its name before it and its amount behind it. */
export function drawCategoryBars({ bars, parts }: BarFigures, width: number, words: BarWords): Drawing {
  const { legend, height: top } = placeLegend(
    parts.map((_, at) => words.part(at)),
    width,
  );
  const names = bars.map((_, at) => words.bar(at));
  const left = Math.min(width * NAMES, Math.max(40, ...names.map(textWidth)) + 8);
  const amounts = bars.map(({ amount }) => (amount === null ? '' : words.amount(amount)));
  const right = Math.max(0, ...amounts.map(textWidth)) + 10;
  const stacked = stackBars(bars, parts.length);
  const [least, most] = extentOf(stacked);
  const x = scaleLinear(
    [least, most === least ? least + 1 : most],
    [left + (least < 0 ? right : 0), Math.max(left + 20, width - right)],
  );
  const height = top + Math.max(1, bars.length) * ROW + 4;
  const marks = stacked.map(({ bar, part, from, to }): BarMark => {
    const [begin, end] = [Math.min(x(from), x(to)), Math.max(x(from), x(to))];
    return {
      shape: 'bar',
      x: begin,
      y: top + bar * ROW + (ROW - BAR) / 2,
      width: Math.max(1, end - begin),
      height: BAR,
      bar,
      part,
    };
  });
  const texts = bars.flatMap(({ amount }, bar): DrawnText[] => {
    const y = top + bar * ROW + ROW / 2 + 4;
    const name: DrawnText = { x: left - 8, y, text: fitText(names[bar] ?? '', left - 8), anchor: 'end', kind: 'label' };
    const ends = marks.filter((mark) => mark.bar === bar).flatMap((mark) => [mark.x, mark.x + mark.width]);
    const below = amount !== null && amount < 0;
    const end = ends.length === 0 ? x(0) : below ? Math.min(...ends) : Math.max(...ends);
    return [
      name,
      { x: end + (below ? -5 : 5), y, text: amounts[bar] ?? '', anchor: below ? 'end' : 'start', kind: 'axis' },
    ];
  });
  const base: AxisLine = { kind: 'base', from: [x(0), top], to: [x(0), height - 4] };
  return { width, height, marks, lines: bars.length === 0 ? [] : [base], texts, legend };
}
