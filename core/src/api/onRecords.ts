import { z } from 'zod';
import { contract } from './contract.ts';
import { answersInAddress, empty, idSchema, lineShape, nothing, recordShape } from './shapes.ts';

/** Which records of a table are meant: those that *Find* finds, in use or archived, or that link to a record. */
export const recordFilter = {
  search: z.string().max(200).default(''),
  archived: z.enum(['no', 'yes']).default('no'),
  /** Only records whose link field points at a record: `owner:17`. */
  linking: z
    .string()
    .regex(/^[a-z][a-z0-9_]*:[1-9]\d{0,15}$/)
    .optional(),
};

export const listRecords = contract({
  method: 'GET',
  path: '/api/tables/{table}/records',
  summary: 'A page of records',
  needs: 'see',
  query: z.object({
    after: z.string().max(500).optional(),
    limit: z.coerce.number().int().min(1).max(200).default(60),
    sort: z.string().max(60).optional(),
    direction: z.enum(['up', 'down']).default('up'),
    ...recordFilter,
  }),
  body: nothing,
  answer: z.object({ records: z.array(recordShape), after: z.string().nullable(), total: z.number().nullable() }),
});
export const formRecords = contract({
  method: 'GET',
  path: '/api/forms/{form}/records',
  summary: 'A page of the records of a form, with what it reads of those that they link to',
  needs: 'see',
  query: z.object({
    version: z.coerce.number().int().min(1).optional(),
    after: z.string().max(500).optional(),
    limit: z.coerce.number().int().min(1).max(200).default(60),
    asked: answersInAddress,
  }),
  body: nothing,
  answer: z.object({ records: z.array(recordShape), after: z.string().nullable() }),
});
const placeShape = z.object({
  /** Null in a table of very many records, which are counted by a question of their own. */
  position: z.number().nullable(),
  total: z.number().nullable(),
  previous: z.number().nullable(),
  next: z.number().nullable(),
  first: z.number().nullable(),
  last: z.number().nullable(),
});
/** Where a record stands among the records in use, in order of entry. */
export type RecordPlace = z.infer<typeof placeShape>;

export const readRecord = contract({
  method: 'GET',
  path: '/api/tables/{table}/records/{id}',
  summary: 'One record, and its place among its neighbours; with its lines, where a form is named',
  needs: 'see',
  query: z.object({
    form: idSchema.optional(),
    version: z.coerce.number().int().min(1).optional(),
    /** A view among whose records its place is told. */
    view: z.coerce.number().int().min(1).optional(),
    asked: answersInAddress,
  }),
  body: nothing,
  answer: recordShape.extend({
    place: placeShape,
    /** Where a view was named: whether the record is among its records. */
    inView: z.boolean().optional(),
  }),
});
export const recordAt = contract({
  method: 'GET',
  path: '/api/tables/{table}/at/{position}',
  summary: 'The record at a place among those in use in order of entry, or among those of a view, from 1',
  needs: 'see',
  query: z.object({ view: z.coerce.number().int().min(1).optional(), asked: answersInAddress }),
  body: nothing,
  answer: z.object({ id: z.number() }),
});
export const readFile = contract({
  method: 'GET',
  path: '/api/tables/{table}/files/{file}',
  summary: 'A file of a record; shown by the browser only if it is a picture or a PDF',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: z.unknown(),
});
export const readThumbnail = contract({
  method: 'GET',
  path: '/api/tables/{table}/files/{file}/thumbnail',
  summary: 'A small picture of a file',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: z.unknown(),
});
export const readPlace = contract({
  method: 'GET',
  path: '/api/tables/{table}/records/{id}/place',
  summary: 'Which of the records in use a record is, from 1, in order of entry, and of how many',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: z.object({ position: z.number(), total: z.number() }),
});
export const recordEvents = contract({
  method: 'GET',
  path: '/api/tables/{table}/records/{id}/events',
  summary: 'Says, as server-sent events, when somebody saves a record that is open at a version',
  needs: 'see',
  query: z.object({ version: z.coerce.number().int().min(1) }),
  body: nothing,
  answer: z.unknown(),
});
export const tableEvents = contract({
  method: 'GET',
  path: '/api/tables/{table}/events',
  summary: 'Says, as server-sent events, when somebody saves records of a table: at most once in two seconds',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: z.unknown(),
});
export const ownEvents = contract({
  method: 'GET',
  path: '/api/events',
  summary: 'Says, as server-sent events, when a record names the signed-in account in a field',
  needs: 'account',
  query: empty,
  body: nothing,
  answer: z.unknown(),
});
const versioned = z.strictObject({ version: z.int().min(1) });
export const archiveRecord = contract({
  method: 'POST',
  path: '/api/tables/{table}/records/{id}/archive',
  summary: 'Take a record out of use',
  needs: 'archive',
  query: empty,
  body: versioned,
  answer: recordShape,
});
export const restoreRecord = contract({
  method: 'POST',
  path: '/api/tables/{table}/records/{id}/restore',
  summary: 'Bring an archived record back',
  needs: 'archive',
  query: empty,
  body: versioned,
  answer: recordShape,
});
export const recordHistory = contract({
  method: 'GET',
  path: '/api/tables/{table}/records/{id}/history',
  summary: 'The change history of a record, and of its lines in the subforms of a form, newest first, page by page',
  needs: 'history',
  query: z.object({ form: idSchema.optional(), before: z.coerce.number().int().min(1).optional() }),
  body: nothing,
  /** `before` asks for the page that follows; null where this one is the last. */
  answer: z.object({ lines: z.array(lineShape), before: z.number().nullable() }),
});

export const eraseRecord = contract({
  method: 'DELETE',
  path: '/api/tables/{table}/records/{id}',
  summary: 'Erase an archived record for good, with a reason',
  needs: 'erase',
  query: empty,
  body: z.strictObject({
    version: z.int().min(1),
    reason: z.string().trim().min(3, 'Say why it is erased: the reason stays in the ledger.').max(500),
  }),
  answer: empty,
});

const everything = z.object({
  table: z.string(),
  record: recordShape,
  /** Its history, newest first. */
  lines: z.array(lineShape),
  /** Records that link to it, by the field that links, each with its history. */
  linking: z.array(
    z.object({
      table: z.string(),
      label: z.string(),
      field: z.string(),
      /** How many there are; `records` tells the first of them. */
      count: z.number(),
      records: z.array(z.object({ record: recordShape, lines: z.array(lineShape) })),
    }),
  ),
});
export type EverythingHeld = z.infer<typeof everything>;
export const everythingHeld = contract({
  method: 'GET',
  path: '/api/tables/{table}/records/{id}/everything',
  summary: 'Everything that is held about one record: itself, its history, and what links to it with its history',
  needs: 'history',
  query: empty,
  body: nothing,
  answer: everything,
});
