import { z } from 'zod';
import { sayLater } from '../languages/index.ts';
import { idSchema, labelSchema } from '../tables/index.ts';

const formIdSchema = z
  .string()
  .regex(/^[a-z][a-z0-9_]*$/, sayLater('This is not a form.'))
  .max(80);

/** What follows a save: the record's card, a blank card of the same form, the list of its table, or a blank card of another form. */
export const afterSaveSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('card') }),
  z.strictObject({ kind: z.literal('blank') }),
  z.strictObject({ kind: z.literal('list') }),
  z.strictObject({ kind: z.literal('form'), form: formIdSchema }),
]);
export type AfterSave = z.infer<typeof afterSaveSchema>;

/** The record itself, as what a field of another form begins with: for a link that points at it. */
export const SELF = 'self';

/**
 * A button of a card that starts another form with values of the record. Such as *Check in* of a vessel: a blank
 * Check-in that begins with the vessel's registration.
 */
export const startSchema = z.strictObject({
  label: labelSchema.pipe(z.string().max(40, sayLater('At most 40 characters fit.'))),
  form: formIdSchema,
  /** What the fields of the other form begin with: a field of this record, or `self`. */
  pairs: z
    .array(z.strictObject({ from: z.union([z.literal(SELF), idSchema]), to: idSchema }))
    .max(30)
    .default([]),
});
export type Start = z.infer<typeof startSchema>;

/** What follows a save of a form; forms of a version before it was chosen go on with the card. */
export const afterSaveOf = ({ after }: { readonly after?: AfterSave | undefined }): AfterSave =>
  after ?? { kind: 'card' };

/** The buttons of a form that start others. */
export const startsOf = ({ starts }: { readonly starts?: readonly Start[] | undefined }): readonly Start[] =>
  starts ?? [];
