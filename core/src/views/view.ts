import { z } from 'zod';
import { EVERYTHING, groupSchema, pathSchema } from '../conditions/index.ts';
import { sayLater } from '../languages/index.ts';
import { labelSchema } from '../tables/index.ts';
import { calculatedPathSchema, columnCalculationSchema } from './calculated.ts';
import { linkedFromSchema } from './linkedFrom.ts';
import { AS_LIST, shownSchema } from './shown.ts';

/** More columns than this are no working list. */
const MOST_COLUMNS = 60;
const MOST_SORTS = 5;
/** So many columns at most stay in sight while the others are scrolled sideways: more would leave no room for them. */
export const MOST_FROZEN = 6;
/** So many records at most are named one by one in the address of an export. */
export const MOST_EXPORTED_SINGLY = 800;
/** The widths that a column can have, in CSS px. */
export const [NARROWEST, WIDEST] = [40, 800];

/** What can stand under a column, over all records that the list finds. */
export const SUMMARIES = ['filled', 'sum', 'average', 'least', 'most'] as const;
export type Summary = (typeof SUMMARIES)[number];

/**
 * A column of a view: a field of its table, one behind links (`pontoon.harbour`), an audit field, a count or sum of what links
 * here, or a calculation (`=1`).
 */
const columnSchema = z.strictObject({
  path: z.union([pathSchema, linkedFromSchema, calculatedPathSchema], sayLater('This is not a column.')),
  /** What a calculated column calculates. */
  calculation: columnCalculationSchema.optional(),
  /** What stands under it. */
  summary: z.enum(SUMMARIES).optional(),
  /** How wide it is drawn, in CSS px; as its type wants to be without. */
  width: z.int().min(NARROWEST).max(WIDEST).optional(),
});
export type ViewColumn = z.infer<typeof columnSchema>;

const sortSchema = z.strictObject({ path: pathSchema, direction: z.enum(['up', 'down']) });
export type ViewSort = z.infer<typeof sortSchema>;

/** Which records of a table are listed, in which order, and what is shown of each. */
export const listingSchema = z.strictObject({
  columns: z.array(columnSchema).min(1, sayLater('Choose at least one column.')).max(MOST_COLUMNS),
  /** Conditions on the columns of a record, on today and on who asks. */
  filter: groupSchema.default(EVERYTHING),
  /** The first sorts; the next ones decide among equals, and the order of entry at last. None: the newest first. */
  sort: z.array(sortSchema).max(MOST_SORTS).default([]),
  /** Records with the same value of this column stand together under it, with their count and summaries. */
  group: pathSchema.nullable().default(null),
  /** How many columns, from the first on, stay in sight while the others are scrolled sideways. */
  frozen: z.int().min(0).max(MOST_FROZEN).default(1),
  shown: shownSchema.default(AS_LIST),
});
export type Listing = z.infer<typeof listingSchema>;

/**
 * A view of a table as it is edited. Such as *Overdue stays*: number, vessel and owner’s phone of the stays whose
 * departure is before today, the longest overdue first.
 */
export const viewDefinitionSchema = z.strictObject({
  label: labelSchema.pipe(z.string().max(60, sayLater('At most 60 characters fit.'))),
  ...listingSchema.shape,
  /** For everybody in the cabinet; otherwise for who made it. */
  shared: z.boolean().default(false),
  /** The roles, by id, that it is shared with; null for all of them. Who builds has every shared view. */
  roles: z
    .array(z.string().min(1).max(60))
    .min(1, sayLater('Choose at least one role.'))
    .max(50)
    .nullable()
    .default(null),
  /** Its table opens on it; one shared view of a table. */
  opens: z.boolean().default(false),
  /** It stands on the Home of everybody who has it; a shared view. */
  home: z.boolean().default(false),
});
export type ViewDefinition = z.infer<typeof viewDefinitionSchema>;
