import { z } from 'zod';
import { say } from '../languages/index.ts';
import { contract } from './contract.ts';
import { viewShape } from './onViews.ts';
import { empty, lineShape, nothing } from './shapes.ts';

/** Views on one Home; more would hide each other. */
export const MOST_ON_HOME = 30;

/** Which views somebody has on their Home, in order; `hidden` takes one away that is on everybody’s. */
export const homeViewsSchema = z
  .array(z.strictObject({ view: z.int().min(1), hidden: z.boolean().default(false) }))
  .max(MOST_ON_HOME, {
    error: () => say('At most {count} views stand on Home. Take another one off first.', { count: MOST_ON_HOME }),
  });
export type HomeViews = z.infer<typeof homeViewsSchema>;

const homeAnswer = z.object({
  /** The views on the caller’s Home, in order, with their tables. */
  views: z.array(z.object({ table: z.string(), view: viewShape })),
  /** Views that are on everybody’s Home, and that the caller took off theirs. */
  hidden: z.array(z.object({ table: z.string(), view: z.number(), label: z.string() })),
});
export type HomeAnswer = z.infer<typeof homeAnswer>;

export const getHome = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/home',
  summary: 'The views that stand on one’s Home: those that are on everybody’s, and one’s own choice',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: homeAnswer,
});

export const setHome = contract({
  method: 'PUT',
  path: '/api/cabinets/{cabinet}/home',
  summary: 'Choose the views of one’s Home, and their order',
  needs: 'see',
  query: empty,
  body: z.strictObject({ views: homeViewsSchema }),
  answer: homeAnswer,
});

export const changedByOthers = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/home/changes',
  summary:
    'The latest saves of others, one line for each: of records whose history one reads, of everything with the right to the ledger',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: z.object({ lines: z.array(lineShape) }),
});
