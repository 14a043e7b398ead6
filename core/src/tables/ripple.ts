import { z } from 'zod';
import { calculationSchema, groupSchema, pathSchema } from '../conditions/index.ts';
import { valueSchema } from '../fields/index.ts';
import { sayLater } from '../languages/index.ts';
import { fieldIdSchema, idSchema, tableIdSchema } from './ids.ts';

/** What stands before the name of a field, in a ripple, for its value before the save: `before__waived`. */
export const BEFORE = 'before__';

/** The field behind a path or the name of a field in a ripple, whether it is read before or after the save: `before__berth` is `berth`. */
export const withoutBefore = (path: string): string => (path.startsWith(BEFORE) ? path.slice(BEFORE.length) : path);

/** The kinds of saves that a ripple can follow. */
export const EVENT_KINDS = ['added', 'changed', 'archived', 'restored'] as const;
export type EventKind = (typeof EVENT_KINDS)[number];

/** Where the value that a ripple writes comes from. */
const sourceSchema = z.discriminatedUnion('kind', [
  /** A field of the saved record, before or after, or one behind its links. */
  z.strictObject({ kind: z.literal('field'), path: pathSchema }),
  z.strictObject({ kind: z.literal('value'), value: valueSchema }),
  /** A CEL expression over the fields of the record, before and after. */
  z.strictObject({ kind: z.literal('calculation'), source: calculationSchema }),
  /** The saved record itself, for a link. */
  z.strictObject({ kind: z.literal('record') }),
  /** Who saved. */
  z.strictObject({ kind: z.literal('account') }),
  /** When it was saved: the day for a date, the moment for a date-time. */
  z.strictObject({ kind: z.literal('now') }),
  /** What the save changed, in words. */
  z.strictObject({ kind: z.literal('summary') }),
]);
export type RippleSource = z.infer<typeof sourceSchema>;

const rippleValueSchema = z.strictObject({ to: fieldIdSchema, from: sourceSchema });
export type RippleValue = z.infer<typeof rippleValueSchema>;

const valuesSchema = z.array(rippleValueSchema).min(1, sayLater('Say which fields are written.')).max(60);

/** One thing that a ripple does. */
const effectSchema = z.discriminatedUnion('does', [
  z.strictObject({ does: z.literal('add'), table: tableIdSchema, values: valuesSchema }),
  /** Changes the record that a link of the saved record points at; `before__berth` is the one that it pointed at before. */
  z.strictObject({ does: z.literal('change'), link: idSchema, values: valuesSchema }),
  z.strictObject({
    does: z.literal('message'),
    /** An address in a field, of this record or behind its links; or the address of an account. */
    to: z.discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('field'), path: pathSchema }),
      z.strictObject({ kind: z.literal('account'), login: z.string().min(1).max(60) }),
    ]),
    subject: z.string().trim().min(1, sayLater('Write a subject.')).max(200),
    text: z.string().trim().min(1, sayLater('Write what the message says.')).max(5_000),
  }),
]);
export type RippleEffect = z.infer<typeof effectSchema>;

/**
 * What else is written when a record is saved. Such as: when a *Stay* is added or changed, and *Waived* is yes or was yes,
 * add a line to *Dues ledger*.
 */
export const rippleSchema = z.strictObject({
  id: z.string().min(1).max(40),
  label: z.string().trim().min(1, sayLater('Give it a label.')).max(120),
  on: z.array(z.enum(EVENT_KINDS)).min(1, sayLater('Choose at least one kind of save.')).max(EVENT_KINDS.length),
  /** Of a change: it counts only where one of these fields changed; none means any. */
  fields: z.array(fieldIdSchema).max(60).default([]),
  /** Paths read the record after the save; those that begin with `before__` read it before. */
  when: groupSchema,
  effects: z.array(effectSchema).min(1, sayLater('Say what it does.')).max(10),
  paused: z.boolean().default(false),
});
export type Ripple = z.infer<typeof rippleSchema>;
