import { z } from 'zod';
import { OPENINGS } from '../forms/index.ts';
import { ruleSchema } from '../rules/index.ts';
import { contract } from './contract.ts';
import {
  empty,
  findingShape,
  formDefinitionSchema,
  formShape,
  idSchema,
  labelSchema,
  lineShape,
  nothing,
  recordShape,
  sessionShape,
  tableShape,
  verdictShape,
} from './shapes.ts';

export * from './onEntries.ts';
export * from './onExports.ts';
export * from './onImports.ts';
export * from './onTables.ts';

export const signIn = contract({
  method: 'POST',
  path: '/api/session',
  summary: 'Sign in',
  needs: 'nobody',
  query: empty,
  body: z.strictObject({ login: z.string().max(200), password: z.string().max(1_000) }),
  answer: sessionShape,
});
export const whoAmI = contract({
  method: 'GET',
  path: '/api/session',
  summary: 'Who is signed in',
  needs: 'nobody',
  query: empty,
  body: nothing,
  answer: sessionShape,
});
export const signOut = contract({
  method: 'DELETE',
  path: '/api/session',
  summary: 'Sign out',
  needs: 'account',
  query: empty,
  body: nothing,
  answer: empty,
});

export const createCabinet = contract({
  method: 'POST',
  path: '/api/cabinets',
  summary: 'Make an empty cabinet; needs the right to build in another one, whose role is taken over',
  needs: 'account',
  query: empty,
  body: z.strictObject({ label: labelSchema }),
  answer: z.object({ id: z.string(), label: z.string() }),
});
export const openCabinet = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}',
  summary: 'The tables and forms of a cabinet',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: z.object({
    id: z.string(),
    label: z.string(),
    tables: z.array(tableShape),
    forms: z.array(formShape),
    roles: z.array(z.object({ id: z.string(), label: z.string() })),
    accounts: z.array(z.object({ login: z.string(), displayName: z.string(), role: z.string() })),
  }),
});

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
    search: z.string().max(200).default(''),
    archived: z.enum(['no', 'yes']).default('no'),
    /** Only records whose link field points at a record: `owner:17`. */
    linking: z
      .string()
      .regex(/^[a-z][a-z0-9_]*:[1-9]\d{0,15}$/)
      .optional(),
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
  }),
  body: nothing,
  answer: z.object({ records: z.array(recordShape), after: z.string().nullable() }),
});
export const readRecord = contract({
  method: 'GET',
  path: '/api/tables/{table}/records/{id}',
  summary: 'One record, and its place among its neighbours; with its lines, where a form is named',
  needs: 'see',
  query: z.object({ form: idSchema.optional(), version: z.coerce.number().int().min(1).optional() }),
  body: nothing,
  answer: recordShape.extend({
    place: z.object({
      position: z.number(),
      total: z.number(),
      previous: z.number().nullable(),
      next: z.number().nullable(),
      first: z.number().nullable(),
      last: z.number().nullable(),
    }),
  }),
});
export const recordAt = contract({
  method: 'GET',
  path: '/api/tables/{table}/at/{position}',
  summary: 'The record at a place among those in use, in order of entry, from 1',
  needs: 'see',
  query: empty,
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
export const recordEvents = contract({
  method: 'GET',
  path: '/api/tables/{table}/records/{id}/events',
  summary: 'Says, as server-sent events, when somebody saves a record that is open at a version',
  needs: 'see',
  query: z.object({ version: z.coerce.number().int().min(1) }),
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
  summary: 'The change history of a record, and of its lines in the subforms of a form',
  needs: 'history',
  query: z.object({ form: idSchema.optional() }),
  body: nothing,
  answer: z.object({ lines: z.array(lineShape) }),
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

export const verifyLedger = contract({
  method: 'GET',
  path: '/api/ledger/verify',
  summary: 'Hold the whole ledger against its chains and seals; needs the right to the ledger in a cabinet',
  needs: 'account',
  query: z.object({
    seal: z
      .string()
      .regex(/^[0-9a-fA-F]{64}$/, 'A seal has 64 hexadecimal digits.')
      .optional(),
  }),
  body: nothing,
  answer: verdictShape,
});

const lines = z.object({ lines: z.array(lineShape), before: z.number().nullable() });
export const readLedger = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/ledger',
  summary: 'All lines of a cabinet, newest first',
  needs: 'ledger',
  query: z.object({
    account: z.string().max(200).optional(),
    table: idSchema.optional(),
    kind: z.enum(['add', 'change', 'archive', 'restore', 'erase']).optional(),
    /** A field’s id: only lines in which it changed. */
    field: idSchema.optional(),
    from: z.iso.date().optional(),
    to: z.iso.date().optional(),
    /** The records of one import. */
    import: z.coerce.number().int().min(1).optional(),
    before: z.coerce.number().int().optional(),
    limit: z.coerce.number().int().min(1).max(200).default(80),
  }),
  body: nothing,
  answer: lines,
});

const mayShape = z.strictObject({ add: z.boolean(), change: z.boolean(), archive: z.boolean() });
export const createForm = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/forms',
  summary: 'Make a form from a table',
  needs: 'build',
  query: empty,
  body: z.strictObject({
    table: idSchema,
    label: labelSchema,
    may: mayShape.default({ add: true, change: true, archive: true }),
    opensOn: z.enum(OPENINGS).default('blank'),
    fields: z.enum(['all', 'none']).default('all'),
    /** Tables that link here, as `table.link`, whose records are entered as lines. */
    subforms: z.array(z.string().max(200)).max(20).default([]),
  }),
  answer: formShape,
});
const runningForm = z.object({
  id: z.string(),
  version: z.number().nullable(),
  definition: formDefinitionSchema,
  tables: z.array(tableShape),
});
export type RunningForm = z.infer<typeof runningForm>;
export const readForm = contract({
  method: 'GET',
  path: '/api/forms/{form}',
  summary: 'The published version of a form, or an older one',
  needs: 'see',
  query: z.object({ version: z.coerce.number().int().min(1).optional() }),
  body: nothing,
  answer: runningForm,
});
const draft = z.object({
  definition: formDefinitionSchema,
  revision: z.number(),
  liveVersion: z.number().nullable(),
  changedSince: z.boolean(),
  /** How many differences there are to the published version. */
  changes: z.number(),
  findings: z.array(findingShape),
});
export type DraftView = z.infer<typeof draft>;
export const readDraft = contract({
  method: 'GET',
  path: '/api/forms/{form}/draft',
  summary: 'The draft of a form and what its proof finds',
  needs: 'build',
  query: empty,
  body: nothing,
  answer: draft,
});
export const saveDraft = contract({
  method: 'PUT',
  path: '/api/forms/{form}/draft',
  summary: 'Save the draft of a form',
  needs: 'build',
  query: empty,
  body: z.strictObject({ definition: formDefinitionSchema, revision: z.int() }),
  answer: draft,
});
export const publishForm = contract({
  method: 'POST',
  path: '/api/forms/{form}/publish',
  summary: 'Publish the draft as the next version',
  needs: 'build',
  query: empty,
  body: z.strictObject({ revision: z.int() }),
  answer: draft,
});
const versionsShape = z.object({
  versions: z.array(z.object({ number: z.number(), at: z.string(), by: z.string(), definition: formDefinitionSchema })),
});
export const listVersions = contract({
  method: 'GET',
  path: '/api/forms/{form}/versions',
  summary: 'The published versions of a form, newest first',
  needs: 'build',
  query: empty,
  body: nothing,
  answer: versionsShape,
});
export type VersionsView = z.infer<typeof versionsShape>;
export const tryRule = contract({
  method: 'POST',
  path: '/api/forms/{form}/trial',
  summary: 'How many records break a rule before it is switched on, and which',
  needs: 'build',
  query: empty,
  body: z.strictObject({ rule: ruleSchema }),
  answer: z.object({
    breaks: z.number(),
    /** How many records were looked at: all of them, unless there are too many to look at while a builder waits. */
    looked: z.number(),
    of: z.number(),
    examples: z.array(z.object({ id: z.number(), title: z.string(), value: z.string(), why: z.string() })),
  }),
});
export const readPage = contract({
  method: 'GET',
  path: '/api/public/{slug}',
  summary: 'A public page',
  needs: 'nobody',
  query: empty,
  body: nothing,
  answer: runningForm.extend({ cabinet: z.string() }),
});

export const health = contract({
  method: 'GET',
  path: '/api/health',
  summary: 'Whether the server and its database answer',
  needs: 'nobody',
  query: empty,
  body: nothing,
  answer: z.object({ status: z.literal('ok') }),
});
