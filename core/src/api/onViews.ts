import { z } from 'zod';
import { valueSchema } from '../fields/index.ts';
import { listingSchema, viewDefinitionSchema } from '../views/index.ts';
import { contract } from './contract.ts';
import { momentInAddress } from './onPast.ts';
import { answersInAddress, empty, nothing, recordShape } from './shapes.ts';

export const viewShape = viewDefinitionSchema.extend({
  id: z.number(),
  /** The account that made it. */
  owner: z.string(),
  revision: z.number(),
  /** Whether the caller may change and delete it. */
  mayChange: z.boolean(),
  /** Why it lists nothing, in words: its filter reads a field that is not there any more. */
  problem: z.string().nullable(),
});
export type ViewView = z.infer<typeof viewShape>;

/** A record in a list: with the values of columns behind links, and their titles where they are links, by path. */
const listedShape = recordShape.extend({
  behind: z.record(z.string(), z.object({ value: valueSchema, title: z.string().nullable() })),
});
export type ListedRecord = z.infer<typeof listedShape>;

const page = {
  /** Words that each have to stand somewhere in what a row shows. */
  search: z.string().max(200).default(''),
  archived: z.enum(['no', 'yes']).default('no'),
  /** `field:id`: only records whose link points there. */
  linking: z.string().max(200).optional(),
  /** The records as they stood at that moment. */
  asOf: momentInAddress.optional(),
  /** Where the page before ended, as its answer said. */
  after: z.string().max(4_000).optional(),
  /** Instead of `after`: the place of its first record, from 0; for a list that is dragged to somewhere in the middle. */
  at: z.coerce.number().int().min(0).max(Number.MAX_SAFE_INTEGER).optional(),
};
const listedAnswer = z.object({
  records: z.array(listedShape),
  after: z.string().nullable(),
  /** With the first page only, and not where that came early. */
  total: z.number().nullable(),
  /** With the first page only: what stands under the columns that have a summary, by path, over all records. */
  summaries: z.record(z.string(), valueSchema).nullable(),
  /** With the first page of a list that is grouped: its groups in order, each with its count and summaries. */
  groups: z
    .array(
      z.object({
        value: valueSchema,
        /** What is called so, where the value is a link. */
        title: z.string().nullable(),
        count: z.number(),
        summaries: z.record(z.string(), valueSchema),
      }),
    )
    .nullable(),
});
export type ListedPage = z.infer<typeof listedAnswer>;
export type ListedGroup = NonNullable<ListedPage['groups']>[number];

export const listViews = contract({
  method: 'GET',
  path: '/api/tables/{table}/views',
  summary: 'The views of a table: one’s own, and those that are shared',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: z.object({ views: z.array(viewShape) }),
});

export const createView = contract({
  method: 'POST',
  path: '/api/tables/{table}/views',
  summary: 'Make a view: for oneself or, by whoever builds, for everybody',
  needs: 'see',
  query: empty,
  body: z.strictObject({ definition: viewDefinitionSchema }),
  answer: viewShape,
});

export const changeView = contract({
  method: 'PUT',
  path: '/api/tables/{table}/views/{view}',
  summary: 'Change a view',
  needs: 'see',
  query: empty,
  body: z.strictObject({ definition: viewDefinitionSchema, revision: z.int().min(1) }),
  answer: viewShape,
});

export const deleteView = contract({
  method: 'DELETE',
  path: '/api/tables/{table}/views/{view}',
  summary: 'Delete a view; the records stay',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: empty,
});

export const viewRecords = contract({
  method: 'GET',
  path: '/api/tables/{table}/views/{view}/records',
  summary: 'The records of a view, page by page',
  needs: 'see',
  query: z.object({ ...page, asked: answersInAddress, limit: z.coerce.number().int().min(1).max(200).default(50) }),
  body: nothing,
  answer: listedAnswer,
});

export const listRows = contract({
  method: 'POST',
  path: '/api/tables/{table}/rows',
  summary: 'The records of a listing that is no view yet, page by page',
  needs: 'see',
  reads: true,
  query: empty,
  body: z.strictObject({
    ...page,
    listing: listingSchema,
    limit: z.int().min(1).max(200).default(50),
    /**
     * As of a moment: the first page may come before all records of then are read. Its `total` is null then, and the same is
     * asked for once more without this.
     */
    early: z.boolean().default(false),
  }),
  answer: listedAnswer,
});
