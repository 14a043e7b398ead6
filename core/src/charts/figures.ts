import { z } from 'zod';
import { valueSchema } from '../fields/index.ts';
import { STEPS } from './steps.ts';

/** One value of a field that a chart groups by: blank is null; where it is a link, with the title of its record. */
const grouped = { value: valueSchema, title: z.string().nullable() };

const amount = z.number().nullable();

/** What one bar stands for. Over time its value is the first day of the step. */
const barSchema = z.object({
  ...grouped,
  count: z.number(),
  /** What the measure gives; null where no record has a number. */
  amount,
  /** With a second field: the amount of each of the `parts`, in their order. */
  parts: z.array(amount).optional(),
});
export type FigureBar = z.infer<typeof barSchema>;

const partSchema = z.object({ ...grouped, others: z.number().optional() });
export type FigurePart = z.infer<typeof partSchema>;

const cellSchema = z.object({
  count: z.number(),
  /** Where it is drawn: the average of its records. */
  x: z.number(),
  y: z.number(),
  /** The least and the most of its records. */
  xs: z.tuple([z.number(), z.number()]),
  ys: z.tuple([z.number(), z.number()]),
});
export type FigureCell = z.infer<typeof cellSchema>;

/** What the database gives for a chart: few numbers, whatever the number of records. */
export const figuresSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('bars'),
    /** Over time: the step of the bars, which is a longer one than was asked for where there would be too many. */
    step: z.enum(STEPS).nullable(),
    bars: z.array(barSchema),
    /** The values with the smaller bars, together, where there are more of them than are drawn. */
    others: z.object({ values: z.number(), count: z.number(), amount }).nullable(),
    parts: z.array(partSchema),
    /** Records without a value of the field that has bars. */
    blank: z.number(),
    total: z.number(),
  }),
  z.object({
    kind: z.literal('points'),
    cells: z.array(cellSchema),
    /** Records that lack one of the two numbers. */
    blank: z.number(),
    total: z.number(),
  }),
]);
export type Figures = z.infer<typeof figuresSchema>;
export type BarFigures = Extract<Figures, { kind: 'bars' }>;
export type PointFigures = Extract<Figures, { kind: 'points' }>;
