import { z } from 'zod';
import { pathSchema } from '../conditions/index.ts';
import { say } from '../languages/index.ts';

/** How long the time is that one bar stands for, as a builder chooses it. */
export const TIME_STEPS = ['day', 'week', 'month', 'year'] as const;
export type TimeStep = (typeof TIME_STEPS)[number];

/** What is computed of the records that a bar stands for: how many there are, or a number of theirs. */
export const MEASURES = ['count', 'sum', 'average', 'least', 'most'] as const;
export type MeasureKind = (typeof MEASURES)[number];

const measureSchema = z.discriminatedUnion('of', [
  z.strictObject({ of: z.literal('count') }),
  z.strictObject({ of: z.enum(['sum', 'average', 'least', 'most']), path: pathSchema }),
]);
export type Measure = z.infer<typeof measureSchema>;

const bars = {
  measure: measureSchema.default({ of: 'count' }),
  /** A second field, by whose values each bar is divided; only what can be added up is. */
  stacked: pathSchema.nullable().default(null),
};

/**
 * What a chart shows of the records of a view. `time` and `categories` are bars, `points` sets two numbers of each record against
 * each other. Such as *Arrivals a week*: `{ kind: 'time', path: 'arrival', step: 'week', measure: { of: 'count' }, stacked: null }`.
 */
export const chartSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('time'), path: pathSchema, step: z.enum(TIME_STEPS).default('week'), ...bars }),
  z.strictObject({
    kind: z.literal('categories'),
    path: pathSchema,
    order: z.enum(['size', 'name']).default('size'),
    ...bars,
  }),
  z.strictObject({ kind: z.literal('points'), x: pathSchema, y: pathSchema }),
]);
export type Chart = z.infer<typeof chartSchema>;
export type BarChart = Exclude<Chart, { kind: 'points' }>;

/** More categories than these are summed up as one bar. */
export const MOST_CATEGORIES = 40;
/** More values of the second field than these are summed up as one part of each bar. */
export const MOST_PARTS = 6;
/** A chart with more bars over time than these is shown by a longer step. */
export const MOST_STEPS = 500;
/** Points are put into so many cells across and up; each cell is drawn as one circle. */
export const POINT_CELLS = { x: 60, y: 40 } as const;

/** Every path that a chart reads, with what it reads it for, in words. */
export function chartReads(chart: Chart): { readonly path: string; readonly words: string; readonly at: string }[] {
  if (chart.kind === 'points')
    return [
      { path: chart.x, words: say('the horizontal axis of its chart'), at: 'x' },
      { path: chart.y, words: say('the vertical axis of its chart'), at: 'y' },
    ];
  const { path, measure, stacked } = chart;
  return [
    { path, words: say('the bars of its chart'), at: 'path' },
    ...(measure.of === 'count'
      ? []
      : [{ path: measure.path, words: say('the length of the bars of its chart'), at: 'measure' }]),
    ...(stacked === null ? [] : [{ path: stacked, words: say('what divides the bars of its chart'), at: 'stacked' }]),
  ];
}
