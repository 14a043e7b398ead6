import { z } from 'zod';
import { OPENINGS } from '../forms/index.ts';
import { officeSchema } from '../officeSettings/index.ts';
import { ruleSchema } from '../rules/index.ts';
import { contract } from './contract.ts';
import {
  empty,
  findingShape,
  formDefinitionSchema,
  formShape,
  idSchema,
  labelSchema,
  loginSchema,
  nothing,
  overviewShape,
  passwordSchema,
  roleShape,
  runningForm,
  sessionShape,
  tableShape,
} from './shapes.ts';

export * from './onCalendars.ts';
export * from './onChanges.ts';
export * from './onCharts.ts';
export * from './onEntries.ts';
export * from './onExports.ts';
export * from './onHeld.ts';
export * from './onHome.ts';
export * from './onImports.ts';
export * from './onLanguages.ts';
export * from './onLedger.ts';
export * from './onMerging.ts';
export * from './onMessages.ts';
export * from './onOperation.ts';
export * from './onPages.ts';
export * from './onPast.ts';
export * from './onPeople.ts';
export * from './onPeriods.ts';
export * from './onPrint.ts';
export * from './onRecords.ts';
export * from './onReplay.ts';
export * from './onRipples.ts';
export * from './onRoles.ts';
export * from './onTables.ts';
export * from './onTokens.ts';
export * from './onUses.ts';
export * from './onViews.ts';

export const signIn = contract({
  method: 'POST',
  path: '/api/session',
  summary: 'Sign in',
  needs: 'nobody',
  query: empty,
  body: z.strictObject({
    login: z.string().max(200),
    password: z.string().max(1_000),
    /** Of the second factor, where the account has one: the answer to a first try says so. */
    code: z.string().max(40).optional(),
  }),
  answer: sessionShape,
});
export const makeFirstAdministrator = contract({
  method: 'POST',
  path: '/api/first-administrator',
  summary: 'Make the first administrator of an office that has none, by the one-time key that the start command prints',
  needs: 'nobody',
  query: empty,
  body: z.strictObject({
    token: z.string().min(1).max(100),
    login: loginSchema,
    displayName: labelSchema,
    password: passwordSchema,
    cabinet: labelSchema,
    /** Where the office is; without it the server’s time zone counts until somebody says. */
    office: officeSchema.optional(),
  }),
  answer: empty,
});
export const changeOffice = contract({
  method: 'PUT',
  path: '/api/cabinets/{cabinet}/office',
  summary: 'Say where the office is and how it writes: time zone, locale and currency of all its cabinets',
  needs: 'build',
  query: empty,
  body: officeSchema,
  answer: officeSchema,
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
  summary: 'Make an empty cabinet; needs the right to build in another one',
  needs: 'account',
  query: empty,
  body: z.strictObject({ label: labelSchema }),
  answer: z.object({ id: z.string(), label: z.string() }),
});
export const changeCabinet = contract({
  method: 'PATCH',
  path: '/api/cabinets/{cabinet}',
  summary: 'Change a cabinet’s name or description, take it out of use or bring it back',
  needs: 'build',
  query: empty,
  body: z
    .strictObject({
      label: labelSchema,
      description: z.string().trim().max(2_000),
      archived: z.boolean(),
    })
    .partial(),
  answer: z.object({ id: z.string(), label: z.string() }),
});
export const findInCabinet = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/find',
  summary: 'Records in use whose title, or another line of text, has the words that were typed; a few of each table',
  needs: 'see',
  query: z.object({ words: z.string().trim().min(1).max(200) }),
  body: nothing,
  answer: z.object({
    found: z.array(
      z.object({
        table: z.string(),
        record: z.number(),
        title: z.string(),
        /** The field and its text that has the words, where that is not the title: `Registration GS-0421`. */
        found: z.string().nullable(),
      }),
    ),
  }),
});
export const cabinetOverview = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/overview',
  summary: 'Records counted, forms with how often they were filled lately, findings of drafts',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: overviewShape,
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
    description: z.string(),
    archived: z.boolean(),
    tables: z.array(tableShape),
    forms: z.array(formShape),
    /** What the caller’s own role allows. */
    role: roleShape,
    /** All roles of the cabinet; what they allow only for whoever builds. */
    roles: z.array(z.object({ id: z.string(), label: z.string(), definition: roleShape.optional() })),
    accounts: z.array(z.object({ login: z.string(), displayName: z.string(), role: z.string(), closed: z.boolean() })),
  }),
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
export const readForm = contract({
  method: 'GET',
  path: '/api/forms/{form}',
  summary: 'The published version of a form, or an older one',
  needs: 'fill',
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
export const changeForm = contract({
  method: 'PATCH',
  path: '/api/forms/{form}',
  summary: 'Take a form out of use, or bring it back',
  needs: 'build',
  query: empty,
  body: z.strictObject({ archived: z.boolean() }),
  answer: formShape,
});
export const duplicateForm = contract({
  method: 'POST',
  path: '/api/forms/{form}/duplicate',
  summary: 'Make a form with the draft of another one',
  needs: 'build',
  query: empty,
  body: z.strictObject({ label: labelSchema }),
  answer: formShape,
});
const triedRuleShape = z.object({
  breaks: z.number(),
  /** How many records were looked at: all of them, unless there are too many to look at while a builder waits. */
  looked: z.number(),
  of: z.number(),
  examples: z.array(z.object({ id: z.number(), title: z.string(), value: z.string(), why: z.string() })),
});
export const tryRule = contract({
  method: 'POST',
  path: '/api/forms/{form}/trial',
  summary: 'How many records break a rule before it is switched on, and which',
  needs: 'build',
  query: empty,
  body: z.strictObject({ rule: ruleSchema }),
  answer: triedRuleShape,
});
export const tryTableRule = contract({
  method: 'POST',
  path: '/api/tables/{table}/rule-trial',
  summary: 'How many records of a table break a rule, and which',
  needs: 'build',
  query: empty,
  body: z.strictObject({ rule: ruleSchema }),
  answer: triedRuleShape,
});
export const health = contract({
  method: 'GET',
  path: '/api/health',
  summary: 'Whether the server is alive; it asks nothing else, the database neither',
  needs: 'nobody',
  query: empty,
  body: nothing,
  answer: z.object({ status: z.literal('ok') }),
});
export const ready = contract({
  method: 'GET',
  path: '/api/ready',
  summary: 'Whether the server takes requests: its database answers, and it is not about to stop (503 otherwise)',
  needs: 'nobody',
  query: empty,
  body: nothing,
  answer: z.object({ status: z.literal('ready') }),
});
