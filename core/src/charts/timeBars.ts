import { scaleLinear, scaleUtc } from 'd3-scale';
import { dateDay, dayDate, partsOfDay } from '../office/index.ts';
import {
  type AxisLine,
  type BarMark,
  type Drawing,
  type DrawingSize,
  type DrawnText,
  placeLegend,
  textWidth,
} from './drawing.ts';
import type { BarFigures } from './figures.ts';
import { extentOf, stackBars } from './stacks.ts';
import { nextStep } from './steps.ts';

/** How what is drawn reads in words. */
export interface BarWords {
  /** An amount at an axis, or at the end of a bar. */
  amount(value: number): string;
  /** What a bar stands for, by its place among the figures. */
  bar(at: number): string;
  part(at: number): string;
}

const BELOW = 22;
const ABOVE = 10;
/** A bar leaves so much of its step free. */
const FREE = 0.18;

/** Bars over time, from the first step that has records to the last, with the amounts at the left. */
export function drawTimeBars(
  { bars, parts, step }: BarFigures,
  { width, height }: DrawingSize,
  words: BarWords,
): Drawing {
  const shown = bars.flatMap((bar, at) => (typeof bar.value === 'string' ? [{ bar, at, day: bar.value }] : []));
  const { legend, height: legendHeight } = placeLegend(
    parts.map((_, at) => words.part(at)),
    width,
  );
  const [first, last] = [shown[0]?.day, shown.at(-1)?.day];
  if (first === undefined || last === undefined || step === null)
    return { width, height, marks: [], lines: [], texts: [], legend };
  const stacked = stackBars(
    shown.map(({ bar }) => bar),
    parts.length,
  );
  const [top, bottom] = [legendHeight + ABOVE, height - BELOW];
  const y = scaleLinear(extentOf(stacked), [bottom, top]).nice(4);
  if (y.domain()[0] === y.domain()[1]) y.domain([0, 1]);
  const ticks = y.ticks(4).filter((tick) => words.amount(tick) !== '');
  const left = Math.max(24, ...ticks.map((tick) => textWidth(words.amount(tick)))) + 8;
  const x = scaleUtc([dayDate(first), dayDate(nextStep(last, step))], [left, width]);
  const marks = stacked.map(({ bar, part, from, to }): BarMark => {
    const { day, at } = shown[bar] as (typeof shown)[number];
    const [begin, end] = [x(dayDate(day)), x(dayDate(nextStep(day, step)))];
    const wide = Math.max(1, (end - begin) * (1 - FREE));
    const [upper, lower] = [Math.min(y(from), y(to)), Math.max(y(from), y(to))];
    return {
      shape: 'bar',
      x: begin + (end - begin - wide) / 2,
      y: upper,
      width: wide,
      height: Math.max(1, lower - upper),
      bar: at,
      part,
    };
  });
  const lines = ticks.map(
    (tick): AxisLine => ({ kind: tick === 0 ? 'base' : 'grid', from: [left, y(tick)], to: [width, y(tick)] }),
  );
  const amounts = ticks.map(
    (tick): DrawnText => ({ x: left - 6, y: y(tick) + 4, text: words.amount(tick), anchor: 'end', kind: 'axis' }),
  );
  return { width, height, marks, lines, texts: [...amounts, ...timeTexts(x, width, height - 6)], legend };
}

/** The space that a day or month takes at the axis, with what parts it from the next. */
const TICK_PX = 74;

/** Days, months and years along the axis; a January and the first of them say their year. */
function timeTexts(x: ReturnType<typeof scaleUtc<number>>, width: number, y: number): DrawnText[] {
  const [left = 0] = x.range();
  const ticks = x.ticks(Math.max(2, Math.floor((width - left) / TICK_PX)));
  const texts = ticks.map((tick, at): DrawnText => {
    const day = dateDay(tick);
    const year = partsOfDay(day, { year: 'numeric' });
    const months = day.endsWith('-01');
    const text =
      months && day.slice(5, 7) === '01'
        ? year
        : partsOfDay(day, months ? { month: 'short' } : { day: 'numeric', month: 'short' });
    return {
      x: x(tick),
      y,
      text: at === 0 && text !== year && ticks.length > 1 ? `${text} ${year}` : text,
      anchor: 'start',
      kind: 'axis',
    };
  });
  return texts.filter(({ x: at, text }, place) => {
    const before = texts[place - 1];
    const clear = before === undefined || before.x + textWidth(before.text) + 6 <= at;
    return clear && at + textWidth(text) <= width + 4;
  });
}
