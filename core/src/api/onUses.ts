import { z } from 'zod';
import { fieldIdSchema, tableIdSchema } from '../tables/index.ts';
import { contract } from './contract.ts';
import { nothing } from './shapes.ts';

const placeShape = z.object({
  kind: z.enum(['form', 'table', 'view', 'role', 'labels', 'calendar']),
  id: z.string(),
  label: z.string(),
  /** The table of a view, of labels, or of a calendar. */
  table: z.string().optional(),
});

/** A place where something is used, with what it is used for there. */
export const useShape = z.object({ place: placeShape, words: z.array(z.string()) });

export const findUses = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/uses',
  summary: 'Where a field, an option of a choice, a table, a view or a form is used, and by how many records',
  needs: 'build',
  /** One of: `table`; `table` and `field`; `table`, `field` and `option`; `view`; `form`. */
  query: z.object({
    table: tableIdSchema.optional(),
    field: fieldIdSchema.optional(),
    option: z.string().min(1).max(200).optional(),
    view: z.coerce.number().int().min(1).optional(),
    form: z.string().max(80).optional(),
  }),
  body: nothing,
  answer: z.object({
    uses: z.array(useShape),
    /** How many records the table has, have a value in the field, or hold the option; null for a view and a form. */
    records: z.number().nullable(),
  }),
});
export type UsesView = z.infer<typeof findUses.answer>;
