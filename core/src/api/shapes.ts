import { z } from 'zod';
import { answersSchema, groupSchema } from '../conditions/index.ts';
import { LOGIN, valueSchema } from '../fields/index.ts';
import { formDefinitionSchema } from '../forms/index.ts';
import { RECEIPT_FORMAT, type Receipt } from '../history/index.ts';
import { officeSchema } from '../officeSettings/index.ts';
import { roleDefinitionSchema } from '../rights/index.ts';
import { ruleSchema } from '../rules/index.ts';
import {
  constraintSchema,
  idSchema,
  initialSchema,
  labelSchema,
  rippleSchema,
  type TableDefinition,
} from '../tables/index.ts';
import { RIGHTS } from './contract.ts';

/** Something that is sent as JSON in an address, so that a link has it whole. */
export const jsonInAddress = (most: number) =>
  z
    .string()
    .max(most)
    .transform((text, context) => {
      try {
        return JSON.parse(text) as unknown;
      } catch {
        context.addIssue({ code: 'custom', message: 'This is not JSON.' });
        return z.NEVER;
      }
    });

/** The answers to what a view asks each time, as JSON in an address, in the order of its questions: `[7,null]`. */
export const answersInAddress = jsonInAddress(8_000).pipe(answersSchema).optional();

/** Values by field. What they mean is checked against the form, field by field, so that each problem has its place. */
export const sentValues = z
  .record(z.string().max(60), z.unknown())
  .refine((values) => Object.keys(values).length <= 600, 'At most 600 fields fit in one entry.');
const values = z.record(z.string(), valueSchema);
const linkedShape = z.object({
  title: z.string(),
  facts: values,
  titles: z.record(z.string(), z.string()).optional(),
});
export const choiceShape = z.object({
  value: z.union([z.string(), z.number()]),
  title: z.string(),
  facts: values,
  shown: z.array(z.string()),
});
export const foundShape = linkedShape.extend({ id: z.number() });

const originShape = z.object({
  by: z.string(),
  value: valueSchema,
  table: z.string(),
  record: z.number(),
  title: z.string(),
  from: z.string(),
  now: valueSchema.optional(),
});

const plainRecordShape = z.object({
  id: z.number(),
  version: z.number(),
  title: z.string(),
  values,
  linked: z.record(z.string(), linkedShape),
  /** Where filled values came from, by field; only of a record that is read by itself. */
  origins: z.record(z.string(), originShape).optional(),
  stamp: z.object({ createdAt: z.string(), createdBy: z.string(), changedAt: z.string(), changedBy: z.string() }),
  archived: z.boolean(),
});
export const recordShape = plainRecordShape.extend({
  /** Of a record that is read by itself, where the role may do it with some records only: whether with this one. */
  may: z.object({ change: z.boolean(), archive: z.boolean(), history: z.boolean() }).optional(),
  /** Of an archived record that is read by itself: the record that it was merged into, where the caller sees that. */
  mergedInto: z.object({ id: z.number(), title: z.string() }).optional(),
  /** Its lines by subform, in their order; only where a form is named that has them. */
  lines: z.record(z.string(), z.array(plainRecordShape)).optional(),
});
export type RecordView = z.infer<typeof recordShape>;

const fieldShape = z.object({
  id: z.string(),
  label: z.string(),
  type: z.string(),
  settings: z.record(z.string(), z.unknown()),
  required: z.boolean(),
  unique: z.boolean(),
  help: z.string(),
  initial: initialSchema.nullable(),
  calculation: z.string().nullable(),
  narrowing: groupSchema.nullable(),
});

/** A table in an answer. Its definition was checked when it was written, so the answer only describes it. */
export const tableShape = z.object({
  id: z.string(),
  cabinet: z.string(),
  label: z.string(),
  description: z.string(),
  kind: z.enum(['records', 'list']),
  title: z.string().nullable(),
  fields: z.array(fieldShape),
  retired: z.array(fieldShape),
  card: z.array(z.string()),
  rules: z.array(ruleSchema),
  constraints: z.array(constraintSchema),
  ripples: z.array(rippleSchema).optional(),
  revision: z.number(),
  archived: z.boolean().optional(),
}) as unknown as z.ZodType<TableDefinition>;
export const formShape = z.object({
  id: z.string(),
  label: z.string(),
  table: z.string(),
  liveVersion: z.number().nullable(),
  slug: z.string().nullable(),
  changedSince: z.boolean(),
  /** What the live version opens on and may do; of a form that was never published, its draft. */
  opensOn: formDefinitionSchema.shape.opensOn,
  may: formDefinitionSchema.shape.may,
  archived: z.boolean(),
  /** How many answers of its public page wait as held; left out where nobody asked. */
  held: z.number().optional(),
});
export type ListedForm = z.infer<typeof formShape>;

/** What goes on in a cabinet: counts stop at 100,000, use is that of the last seven days. */
export const overviewShape = z.object({
  tables: z.array(
    z.object({
      id: z.string(),
      records: z.number(),
      archived: z.number(),
      changedAt: z.string().nullable(),
      changedBy: z.string().nullable(),
    }),
  ),
  forms: z.array(
    z.object({
      id: z.string(),
      /** Records added through it, by anybody and by whoever asks. */
      filled: z.number(),
      mine: z.number(),
      filledAt: z.string().nullable(),
      filledBy: z.string().nullable(),
      /** Findings of its draft, for builders. */
      must: z.number(),
      look: z.number(),
    }),
  ),
});
export type OverviewView = z.infer<typeof overviewShape>;

const problemShape = z.object({
  path: z.string(),
  rule: z.string(),
  message: z.string(),
  asks: z.literal(true).optional(),
});
export type FindingView = z.infer<typeof findingShape>;
export const findingShape = problemShape
  .omit({ asks: true })
  .extend({ weight: z.enum(['must', 'look']), why: z.string(), confirm: z.string().optional() });

export const loginSchema = z
  .string()
  .trim()
  .toLowerCase()
  .regex(LOGIN, 'A login has 2 to 40 letters, digits, dots, hyphens or underscores, and begins with a letter.');

/** A new password as it was typed; the server says what is wrong with it. */
export const passwordSchema = z.string().max(1_000);

export const roleShape = roleDefinitionSchema.extend({ id: z.string(), revision: z.number() });

export const sessionShape = z.object({
  login: z.string().nullable(),
  displayName: z.string(),
  csrf: z.string(),
  office: officeSchema,
  /** Whether somebody has chosen them; until then the time zone is the server’s. */
  officeIsSet: z.boolean(),
  cabinets: z.array(
    z.object({
      id: z.string(),
      label: z.string(),
      role: z.string(),
      rights: z.array(z.enum(RIGHTS)),
      archived: z.boolean(),
      /** The role works with a second factor only, and the account has none. */
      lacksFactor: z.boolean(),
      /** It is seen as that role has it, and nothing can be changed. */
      seenAs: z.boolean(),
    }),
  ),
  /** The sample accounts, in sample mode only. */
  samples: z.array(z.object({ login: z.string(), about: z.string(), password: z.string() })),
});
export type SessionView = z.infer<typeof sessionShape>;

/** One field of a change, in words. */
export const fieldChangeShape = z.object({
  field: z.string(),
  label: z.string(),
  before: z.string(),
  after: z.string(),
  was: valueSchema,
});

/** A record, with what its table and it are called. */
const recordNamed = z.object({ table: z.string(), record: z.number(), what: z.string(), title: z.string() });

export const lineShape = z.object({
  id: z.number(),
  at: z.string(),
  account: z.string(),
  through: z.string(),
  /** Why it was done, as it was said: a sentence each. */
  reasons: z.array(z.string()),
  transaction: z.number(),
  /** The import that this line stands for as a whole. */
  import: z.number().nullable(),
  /** The change of many that this line stands for as a whole. */
  change: z.object({ id: z.number(), table: z.string() }).nullable(),
  /** The table of a record; null for a definition. */
  table: z.string().nullable(),
  what: z.string(),
  record: z.string(),
  title: z.string(),
  kind: z.enum(['add', 'change', 'archive', 'restore', 'erase']),
  /** Of a line that a ripple wrote: the record whose save it followed. */
  follows: recordNamed.nullable(),
  /** What ripples wrote for this save. */
  wrote: z.array(recordNamed),
  changes: z.array(fieldChangeShape),
});
export type LineView = z.infer<typeof lineShape>;

const sealShape = z.object({
  number: z.string(),
  micros: z.string(),
  fromTransaction: z.string(),
  toTransaction: z.string(),
  lines: z.string(),
  root: z.string(),
  previous: z.string().nullable(),
  oldest: z.string().nullable(),
  hash: z.string(),
});
/** A seal that was given away, signed with the key of the office. */
export const receiptShape: z.ZodType<Receipt> = z.object({
  format: z.literal(RECEIPT_FORMAT),
  issued: z.string(),
  seal: sealShape,
  publicKey: z.string(),
  signature: z.string(),
});

/** What verifying the ledger found. */
const verdictShape = z.object({
  lines: z.number(),
  records: z.number(),
  seals: z.number(),
  /** Lines that the next seal will cover: the window in which a superuser could still rewrite them unseen. */
  unsealed: z.number(),
  /** When the oldest of them was written. */
  unsealedSince: z.string().nullable(),
  /** Hash of the newest seal: noted elsewhere, it finds even a ledger rewritten from end to end. */
  newestSeal: z.string().nullable(),
  /** The first things that do not fit, those that name a record before the others; none when all fits. */
  misfits: z.array(
    z.object({
      what: z.string(),
      line: z.number().nullable(),
      seal: z.string().nullable(),
      place: z.string().nullable(),
      record: z.string().nullable(),
    }),
  ),
});
export type LedgerVerdict = z.infer<typeof verdictShape>;

export const taskShape = z.object({
  id: z.number(),
  kind: z.string(),
  label: z.string(),
  table: z.string().nullable(),
  account: z.string(),
  at: z.string(),
  state: z.enum(['waiting', 'running', 'done', 'failed', 'cancelled']),
  done: z.number(),
  total: z.number().nullable(),
  message: z.string().nullable(),
  outcome: z.record(z.string(), z.unknown()).nullable(),
  cancelling: z.boolean(),
});
export type TaskView = z.infer<typeof taskShape>;

export const nothing = z.undefined().or(z.null()).or(z.object({}));
export const empty = z.object({});
export { formDefinitionSchema, idSchema, labelSchema, valueSchema };

/** A form as it runs: the version, its definition, and the tables that it needs. */
export const runningForm = z.object({
  id: z.string(),
  version: z.number().nullable(),
  /** Sent back as `X-Fiche-Begun` by an entry that is finished on this version after the next one went live. */
  begun: z.string().nullable(),
  definition: formDefinitionSchema,
  tables: z.array(tableShape),
});
export type RunningForm = z.infer<typeof runningForm>;
