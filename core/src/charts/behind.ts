import { all, type Comparison, type Group } from '../conditions/index.ts';
import { takesWords, type Value } from '../fields/index.ts';
import { typeOf } from '../tables/index.ts';
import type { BarChart, Chart } from './chart.ts';
import type { FieldAt } from './check.ts';
import type { FigureBar, FigureCell, FigurePart } from './figures.ts';
import { nextStep, type Step } from './steps.ts';

const column = (path: string) => ({ kind: 'column' as const, path });

const compare = (path: string, operator: 'is' | 'has' | 'atLeast' | 'atMost' | 'less', value: Value): Comparison => ({
  kind: 'compare',
  left: column(path),
  operator,
  right: { kind: 'constant', value: value as string | number | boolean },
});

/** The condition under which a record has a value of a field that a chart groups by. */
function hasValue(path: string, { value, others }: FigurePart, fieldAt: FieldAt): Comparison[] | undefined {
  // What is left of all values is no condition that a list could show.
  if (others !== undefined) return undefined;
  const field = fieldAt(path)?.field;
  if (!field) return undefined;
  if (value === null) return [{ kind: 'compare', left: column(path), operator: 'isBlank' }];
  return [compare(path, takesWords(field) ? 'has' : 'is', value)];
}

/** The condition under which a date or moment lies in the step that begins on a day. */
function within(path: string, day: string, step: Step, fieldAt: FieldAt): Comparison[] {
  const field = fieldAt(path)?.field;
  const bound = (of: string): string => (field && typeOf(field).family === 'dateTime' ? `${of}T00:00` : of);
  return [compare(path, 'atLeast', bound(day)), compare(path, 'less', bound(nextStep(day, step)))];
}

/**
 * The condition that finds the records behind a bar, or behind one part of it, in a list; undefined for what is summed up of
 * many values.
 */
export function recordsBehind(
  chart: BarChart,
  step: Step | null,
  bar: FigureBar,
  part: FigurePart | undefined,
  fieldAt: FieldAt,
): Group | undefined {
  const own =
    chart.kind === 'time' && step !== null && typeof bar.value === 'string'
      ? within(chart.path, bar.value, step, fieldAt)
      : hasValue(chart.path, bar, fieldAt);
  const divided = part === undefined || chart.stacked === null ? [] : hasValue(chart.stacked, part, fieldAt);
  return own && divided ? all(...own, ...divided) : undefined;
}

/** The condition that finds the records behind one circle of two numbers in a list. */
export const recordsInCell = (chart: Extract<Chart, { kind: 'points' }>, { xs, ys }: FigureCell): Group =>
  all(
    compare(chart.x, 'atLeast', xs[0]),
    compare(chart.x, 'atMost', xs[1]),
    compare(chart.y, 'atLeast', ys[0]),
    compare(chart.y, 'atMost', ys[1]),
  );
