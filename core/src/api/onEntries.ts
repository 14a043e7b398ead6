import { z } from 'zod';
import { contract } from './contract.ts';
import { choiceShape, empty, foundShape, idSchema, recordShape, sentValues, valueSchema } from './shapes.ts';

const choicesBody = z.strictObject({
  field: idSchema,
  values: sentValues,
  search: z.string().max(200).default(''),
  limit: z.int().min(1).max(200).default(50),
});
const choicesAnswer = z.object({ choices: z.array(choiceShape), more: z.boolean() });
const lookupBody = z.union([
  z.strictObject({ field: idSchema, id: z.int().min(1) }),
  z.strictObject({ field: idSchema, key: valueSchema }),
]);
const checkBody = z.strictObject({ field: idSchema, values: sentValues });
const entryBody = z.strictObject({
  /** With `version`, the record to change; a new one without. */
  record: z.int().min(1).optional(),
  version: z.int().min(1).optional(),
  /** The form's version that was filled; the live one when left out. */
  formVersion: z.int().min(1).optional(),
  values: sentValues,
});
export type EntryBody = z.infer<typeof entryBody>;
const entryAnswer = z.object({ record: recordShape.nullable(), reference: z.string() });
export type EntryAnswer = z.infer<typeof entryAnswer>;

/** What runs a form, under the four addresses where a form can run. */
const running = <const P extends string>(
  base: P,
  needs: 'nobody' | 'see' | 'build',
  adds: 'nobody' | 'see' | 'build',
  what: string,
) => ({
  choices: contract({
    method: 'POST',
    path: `${base}/choices`,
    summary: `Narrowed choices of a dropdown of ${what}`,
    needs,
    query: empty,
    body: choicesBody,
    answer: choicesAnswer,
  }),
  lookups: contract({
    method: 'POST',
    path: `${base}/lookups`,
    summary: `A record to fill from, for ${what}`,
    needs,
    query: empty,
    body: lookupBody,
    answer: z.object({ found: z.array(foundShape) }),
  }),
  checks: contract({
    method: 'POST',
    path: `${base}/checks`,
    summary: `Whether a value still fits its dropdown, for ${what}`,
    needs,
    query: empty,
    body: checkBody,
    answer: z.object({ fits: z.boolean() }),
  }),
  entries: contract({
    method: 'POST',
    path: `${base}/entries`,
    summary: `Save an entry of ${what}`,
    needs: adds,
    query: empty,
    body: entryBody,
    answer: entryAnswer,
  }),
});
export const onForm = running('/api/forms/{form}', 'see', 'see', 'a form');
export const onTable = running('/api/tables/{table}', 'see', 'see', 'a table’s own card');
export const onDraft = running(
  '/api/forms/{form}/draft',
  'build',
  'build',
  'a draft being tried, which writes nothing',
);
export const onPage = running('/api/public/{slug}', 'nobody', 'nobody', 'a public page');
