import { z } from 'zod';
import { calculationSchema, groupSchema } from '../conditions/index.ts';
import { destinationIdSchema, destinationsSchema } from '../destinations/index.ts';
import { fillSchema } from '../fills/index.ts';
import { sayLater } from '../languages/index.ts';
import { narrowingSchema } from '../narrowing/index.ts';
import { publicPageSchema } from '../pages/index.ts';
import { ruleSchema } from '../rules/index.ts';
import { fieldIdSchema, initialSchema, labelSchema, tableIdSchema } from '../tables/index.ts';
import { afterSaveSchema, startSchema } from './nextSteps.ts';

/** More lines than this in one subform belong into a table of their own. */
export const MOST_LINES = 1_000;

/** A field placed on a form. What is left out (null) is as the table has it. */
const formFieldSchema = z.strictObject({
  /** Left out by definitions that were saved before items had a kind. */
  kind: z.literal('field').default('field'),
  field: fieldIdSchema,
  label: labelSchema.nullable().default(null),
  help: z.string().max(1_000).nullable().default(null),
  required: z.boolean().default(false),
  /** Required while this holds, too. */
  requiredWhen: groupSchema.nullable().default(null),
  /** Shown only while this holds; a hidden field is not required, not checked, and saved as blank. */
  shownWhen: groupSchema.nullable().default(null),
  /** A hidden field keeps its value instead. */
  keepHidden: z.boolean().default(false),
  readOnly: z.boolean().default(false),
  initial: initialSchema.nullable().default(null),
  calculation: calculationSchema.nullable().default(null),
  narrowing: narrowingSchema.nullable().default(null),
  fill: fillSchema.nullable().default(null),
});
export type PlacedField = z.infer<typeof formFieldSchema>;

const maySchema = z.strictObject({ add: z.boolean(), change: z.boolean(), archive: z.boolean() });

const itemId = z.string().regex(/^[a-z0-9_]{1,40}$/);

/** Words that stand between the fields. */
const wordsSchema = z.strictObject({
  kind: z.enum(['heading', 'note']),
  id: itemId,
  text: z.string().trim().min(1, sayLater('Write something.')).max(2_000),
});

/** The reference card of the record that a link field of the form points at. */
const referenceSchema = z.strictObject({ kind: z.literal('card'), id: itemId, of: fieldIdSchema });

/**
 * The lines of the table `table` whose field `link` points at the form’s record, entered inside it. Its id is the name
 * by which calculations and rules of the form know its lines, so it is no field of the form.
 */
const subformSchema = z.strictObject({
  kind: z.literal('subform'),
  id: z.string().regex(/^[a-z][a-z0-9_]{0,39}$/),
  table: tableIdSchema,
  link: fieldIdSchema,
  /** Of a form with destinations: whose lines they are; those of its own record without. */
  of: destinationIdSchema.optional(),
  label: labelSchema.nullable().default(null),
  /** Dense rows, or a small card for each line. */
  as: z.enum(['rows', 'cards']).default('rows'),
  /** How many lines there have to be, and may be. */
  least: z.int().min(1).max(MOST_LINES).nullable().default(null),
  most: z.int().min(1).max(MOST_LINES).nullable().default(null),
  shownWhen: groupSchema.nullable().default(null),
  /** A shared view: only the lines that it finds are shown and saved; the others stay as they are. */
  view: z.int().min(1).nullish(),
  /** What can be done with its lines; everything where it is left out. */
  may: maySchema.optional(),
  fields: z.array(formFieldSchema).max(60),
  rules: z.array(ruleSchema).max(60).default([]),
});
export type Subform = z.infer<typeof subformSchema>;

const itemSchema = z.union([formFieldSchema, wordsSchema, referenceSchema, subformSchema]);
/** What stands in a section, in order; told apart by its kind. */
export type Item = z.infer<typeof itemSchema>;

export const isField = (item: Item): item is PlacedField => item.kind === 'field';

export const isSubform = (item: Item): item is Subform => item.kind === 'subform';

/** What names an item within its form: its field, the name of its lines, or its own id. */
export const itemKey = (item: Item): string => (isField(item) ? item.field : isSubform(item) ? item.id : `#${item.id}`);

const sectionSchema = z.strictObject({
  id: itemId,
  label: z.union([labelSchema, z.literal('')]),
  /** Columns of the section on a wide card, 1 to 4. */
  columns: z.int().min(1).max(4).default(3),
  shownWhen: groupSchema.nullable().default(null),
  items: z.array(itemSchema).max(600),
});
export type Section = z.infer<typeof sectionSchema>;

/** What a form opens on: a card, a list to choose from, or rows to fill, with the records that are there or without. */
export const OPENINGS = ['blank', 'records', 'rows', 'blankRows'] as const;
export const OPENING_WORDS: Readonly<Record<(typeof OPENINGS)[number], string>> = {
  blank: sayLater('a blank card'),
  records: sayLater('all records'),
  rows: sayLater('all records, as rows'),
  blankRows: sayLater('blank rows'),
};

/** A form over one table, as it is drafted and published: plain JSON. */
export const formDefinitionSchema = z.strictObject({
  label: labelSchema,
  table: tableIdSchema,
  may: maySchema,
  /** What a person sees first. */
  opensOn: z.enum(OPENINGS).default('blank'),
  /** The shared view whose records it shows, in its order; null for all records of its table, in order of entry. */
  view: z.int().min(1).nullable().default(null),
  showStamp: z.boolean().default(true),
  sections: z.array(sectionSchema).max(60),
  rules: z.array(ruleSchema).max(200).default([]),
  /** How the form stands on a public page; null while it has none. */
  page: publicPageSchema.nullable().default(null),
  /** The tables that it writes to besides its own; fields of them stand on it as `owner__e_mail`. */
  destinations: destinationsSchema.nullish(),
  after: afterSaveSchema.optional(),
  /** Buttons of its cards that start other forms. */
  starts: z.array(startSchema).max(10).optional(),
});
export type DefinedForm = z.infer<typeof formDefinitionSchema>;

/** The subforms of a form in reading order. */
export const subformsOf = (form: DefinedForm): Subform[] =>
  form.sections.flatMap((section) => section.items.filter(isSubform));

/** The fields of a form in reading order. */
export const formFields = (form: DefinedForm): PlacedField[] =>
  form.sections.flatMap((section) => section.items.filter(isField));
