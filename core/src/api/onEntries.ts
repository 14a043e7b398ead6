import { z } from 'zod';
import { destinationIdSchema } from '../destinations/index.ts';
import { MOST_LINES } from '../forms/index.ts';
import { contract } from './contract.ts';
import { choiceShape, empty, foundShape, idSchema, recordShape, sentValues, valueSchema } from './shapes.ts';

/** The form's version that is being filled; the live one when left out. */
const formVersion = z.int().min(1).optional();
/** For a question in a line: its subform, and the values of the record around it. */
const within = z.strictObject({ subform: idSchema, values: sentValues }).optional();
const choicesBody = z.strictObject({
  field: idSchema,
  formVersion,
  within,
  values: sentValues,
  search: z.string().max(200).default(''),
  limit: z.int().min(1).max(200).default(50),
});
const choicesAnswer = z.object({ choices: z.array(choiceShape), more: z.boolean() });
/** A lookup in a line names its subform; what it finds does not hang on the record around it. */
const subform = idSchema.optional();
const lookupBody = z.union([
  z.strictObject({ field: idSchema, formVersion, subform, id: z.int().min(1) }),
  z.strictObject({ field: idSchema, formVersion, subform, key: valueSchema }),
]);
const checkBody = z.strictObject({ field: idSchema, formVersion, within, values: sentValues });

const reasons = z.record(z.string().max(40), z.string().trim().max(500)).optional();
const picked = z.record(z.string().max(60), z.int().min(1)).optional();
export const meant = z.record(destinationIdSchema, z.int().min(1)).optional();
/** A line: new without `id`; one that is only named stays as it is, at its place. */
const lineBody = z.strictObject({
  /** Names the line in problems: `services_used[l3].quantity`. */
  key: z.string().regex(/^\w{1,20}$/),
  id: z.int().min(1).optional(),
  version: z.int().min(1).optional(),
  archived: z.literal(true).optional(),
  values: sentValues.optional(),
  reasons,
  picked,
});
/** What a public page sends with an answer, for the server to tell people from programs. */
const pageProof = z.strictObject({
  /** What stands in a field that people do not see. */
  trap: z.string().max(2_000).default(''),
  /** What the browser found by trying: see `workBits` of the page. */
  work: z.string().max(40).default(''),
  /** The respondent agrees to the text that the page shows. */
  agreed: z.literal(true).optional(),
});
export type PageProof = z.infer<typeof pageProof>;
const entryBody = z.strictObject({
  /** With `version`, the record to change; a new one without. */
  record: z.int().min(1).optional(),
  version: z.int().min(1).optional(),
  formVersion,
  values: sentValues,
  /** Why an entry is to be let through that ask rules are against, by rule. */
  reasons,
  /** Which of several records that a key found is meant, by field. */
  picked,
  /** Which of several records with the key of a destination is meant, by destination: one that a refusal named in `several`. */
  meant,
  /** The lines of each subform, in their order; those of a record that are not named stay as they are. */
  lines: z.record(z.string().max(60), z.array(lineBody).max(MOST_LINES)).optional(),
  page: pageProof.optional(),
  /** While a draft is tried: the role as which, or `public`. */
  as: z.string().max(60).optional(),
});

/** One condition on the choices of a dropdown, in words, with what it used and how many records it left. */
const whyStep = z.object({
  words: z.string(),
  state: z.enum(['counts', 'open', 'through']),
  /** The form's side: its label and its present value, blank when empty. */
  used: z.array(z.object({ label: z.string(), value: z.string() })),
  /** How many choices are left with this condition and all before it; counted no further than `most`. */
  left: z.number(),
});
const whyAnswer = z.object({ of: z.string(), all: z.number(), most: z.number(), steps: z.array(whyStep) });
export type WhyView = z.infer<typeof whyAnswer>;
export type EntryBody = z.infer<typeof entryBody>;
/** A file that was received, and how a field names it. */
const fileAnswer = z.object({
  token: z.string(),
  name: z.string(),
  size: z.number(),
  kind: z.string(),
});
export type FileAnswer = z.infer<typeof fileAnswer>;
const fileQuery = z.object({
  field: idSchema,
  subform: idSchema.optional(),
  formVersion: z.coerce.number().int().min(1).optional(),
  name: z.string().min(1).max(1_000),
});
const entryAnswer = z.object({
  record: recordShape.nullable(),
  reference: z.string(),
  /** On a public page: it is not saved yet, somebody of the office looks at it first. */
  waits: z.literal(true).optional(),
  /** On a public page: the token with which the respondent comes back to the answer, where it can be corrected. */
  receipt: z.string().optional(),
  /** Where a form with destinations is tried: the records that it would write or find, in the order of writing, in words. */
  written: z
    .array(
      z.object({
        table: z.string(),
        did: z.enum(['added', 'found', 'changed']),
        values: z.array(z.object({ label: z.string(), value: z.string() })),
      }),
    )
    .optional(),
});
export type EntryAnswer = z.infer<typeof entryAnswer>;

/** What runs a form, under the four addresses where a form can run. */
const running = <const P extends string>(
  base: P,
  needs: 'nobody' | 'fill' | 'build',
  adds: 'nobody' | 'fill' | 'build',
  what: string,
) => ({
  choices: contract({
    method: 'POST',
    path: `${base}/choices`,
    summary: `Narrowed choices of a dropdown of ${what}`,
    needs,
    reads: true,
    query: empty,
    body: choicesBody,
    answer: choicesAnswer,
  }),
  lookups: contract({
    method: 'POST',
    path: `${base}/lookups`,
    summary: `A record to fill from, for ${what}`,
    needs,
    reads: true,
    query: empty,
    body: lookupBody,
    answer: z.object({ found: z.array(foundShape) }),
  }),
  checks: contract({
    method: 'POST',
    path: `${base}/checks`,
    summary: `Whether a value still fits its dropdown, for ${what}`,
    needs,
    reads: true,
    query: empty,
    body: checkBody,
    answer: z.object({ fits: z.boolean() }),
  }),
  files: contract({
    method: 'POST',
    path: `${base}/files`,
    summary: `Send a file for a field of ${what}; a save that names it keeps it`,
    needs: adds,
    query: fileQuery,
    body: z.unknown(),
    answer: fileAnswer,
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
const why = <const P extends string>(base: P, needs: 'fill' | 'build', what: string) =>
  contract({
    method: 'POST',
    path: `${base}/why`,
    summary: `Why a dropdown of ${what} offers what it offers`,
    needs,
    reads: true,
    query: empty,
    body: checkBody,
    answer: whyAnswer,
  });
export const whyOnForm = why('/api/forms/{form}', 'fill', 'a form');
export const whyOnTable = why('/api/tables/{table}', 'fill', 'a table’s own card');
export const whyOnDraft = why('/api/forms/{form}/draft', 'build', 'a draft being tried');

export const onForm = running('/api/forms/{form}', 'fill', 'fill', 'a form');
export const onTable = running('/api/tables/{table}', 'fill', 'fill', 'a table’s own card');
export const onDraft = running(
  '/api/forms/{form}/draft',
  'build',
  'build',
  'a draft being tried, which writes nothing',
);
export const onPage = running('/api/public/{slug}', 'nobody', 'nobody', 'a public page');
