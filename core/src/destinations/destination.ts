import { z } from 'zod';
import { sayLater } from '../languages/index.ts';
import { fieldIdSchema, tableIdSchema } from '../tables/index.ts';

/** What stands between a destination and a field in the name of a field of a form: `owner__e_mail`. */
export const BETWEEN = '__';
/** The form’s own record, among the records that it writes. */
export const OWN = 'self';

/** The name of a destination within its form. */
export const destinationIdSchema = z.string().regex(/^[a-z][a-z0-9]{0,13}$/, sayLater('This is not a destination.'));

/** What a destination does with its table, when an entry is added. */
export const DOES = ['add', 'findOrAdd', 'findAndChange'] as const;
export type Does = (typeof DOES)[number];

/** What a destination does where several records have its key. */
export const SEVERAL = ['refuse', 'newest', 'ask'] as const;
export type Several = (typeof SEVERAL)[number];

/**
 * Another table that a form writes to. Such as: *Owners*, found by *E-mail* or added, so that an owner who is known is
 * not doubled.
 */
export const destinationSchema = z.strictObject({
  id: destinationIdSchema,
  table: tableIdSchema,
  does: z.enum(DOES).default('add'),
  /** The fields of its table that a record is found by; none where it is only added. */
  key: z.array(fieldIdSchema).max(4).default([]),
  /** With `findAndChange`: whether values that are there are written over, or blanks filled only. */
  over: z.enum(['blanks', 'replace']).default('blanks'),
  /** What happens where several records have the key; `ask` lets a person of the office choose one of them. */
  several: z.enum(SEVERAL).default('refuse'),
});
export type Destination = z.infer<typeof destinationSchema>;

const partSchema = z.union([z.literal(OWN), destinationIdSchema]);

/** A link field of one of the records that a form writes, which points at another of them: `vessel.owner` at `owner`. */
export const recordLinkSchema = z.strictObject({ of: partSchema, field: fieldIdSchema, to: partSchema });
export type RecordLink = z.infer<typeof recordLinkSchema>;

/** A field of the form, by its name there, whose value goes to a field of another of the records as well. */
export const copySchema = z.strictObject({ from: fieldIdSchema, of: partSchema, to: fieldIdSchema });
export type Copy = z.infer<typeof copySchema>;

/** The tables that a form writes to besides its own, the links between the records, and values that go to several of them. */
export const destinationsSchema = z.strictObject({
  of: z.array(destinationSchema).min(1).max(10),
  links: z.array(recordLinkSchema).max(60).default([]),
  copies: z.array(copySchema).max(100).default([]),
});
export type Destinations = z.infer<typeof destinationsSchema>;

/** What of a form says where it writes. */
export interface Writing {
  readonly table: string;
  readonly destinations?: Destinations | null | undefined;
}

/** The name of a destination’s field on the form. */
export const fieldOfDestination = (destination: string, field: string): string => `${destination}${BETWEEN}${field}`;

/** Which of the records that a form writes a field of it goes to, and the field there. */
export function homeOf({ destinations }: Writing, id: string): { readonly part: string; readonly field: string } {
  const at = id.indexOf(BETWEEN);
  const part = at < 0 ? undefined : destinations?.of.find((one) => one.id === id.slice(0, at));
  return part ? { part: part.id, field: id.slice(at + BETWEEN.length) } : { part: OWN, field: id };
}

/** The table of one of the records that a form writes. */
export const tableOfPart = ({ table, destinations }: Writing, part: string): string =>
  part === OWN ? table : (destinations?.of.find((one) => one.id === part)?.table ?? '');

/** The records that a form writes: its own, and one of each destination. */
export const partsOf = ({ destinations }: Writing): string[] => [OWN, ...(destinations?.of.map((one) => one.id) ?? [])];
