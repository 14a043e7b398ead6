import { z } from 'zod';
import { calculationSchema, groupSchema } from '../conditions/index.ts';
import {
  type FieldType,
  fieldType,
  isFieldType,
  isLinking,
  linksOne,
  type Problem,
  type Settings,
  valueSchema,
  withArticle,
} from '../fields/index.ts';
import { say, sayLater } from '../languages/index.ts';
import type { Rule } from '../rules/index.ts';
import type { Constraint } from './constraints/registry.ts';
import type { FieldId, TableId } from './ids.ts';
import { RESERVED_COLUMNS } from './naming.ts';
import type { Ripple } from './ripple.ts';

export const LABEL_MOST = 120;

/** A label is for people: any script, any punctuation, but one line and not endless. */
export const labelSchema = z
  .string()
  .transform((label) => label.normalize('NFC').replace(/\s+/gu, ' ').trim())
  .pipe(
    z
      .string()
      .min(1, sayLater('Give it a label.'))
      .max(LABEL_MOST, {
        error: () =>
          say('This label is too long: at most {count} characters fit. Put the rest into the help text.', {
            count: LABEL_MOST,
          }),
      })
      // biome-ignore lint/suspicious/noControlCharactersInRegex: labels are stored as text, which cannot hold them.
      .refine((label) => !/[\u0000-\u001f]/.test(label), sayLater('A label cannot hold control characters.')),
  );

/** What a new record starts with in a field. */
export const initialSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('value'), value: valueSchema }),
  z.strictObject({ kind: z.literal('today') }),
  z.strictObject({ kind: z.literal('now') }),
  z.strictObject({ kind: z.literal('account') }),
  /** Follows the fields that it reads until somebody types. */
  z.strictObject({ kind: z.literal('calculation'), source: calculationSchema }),
]);
export type Initial = z.infer<typeof initialSchema>;

/** Why a default cannot begin a field of this type, in words; undefined when it can. */
export function initialMisfit(field: Pick<NewField, 'type' | 'settings' | 'initial' | 'label'>): string | undefined {
  const { initial } = field;
  // Whether a calculation gives what the field holds is known among its table’s fields only: the proof and the server ask.
  if (initial === null || initial.kind === 'calculation') return undefined;
  if (initial.kind === 'value') {
    const read = fieldType(field.type).accept(initial.value, field.settings);
    return read.ok ? undefined : read.message;
  }
  const type = fieldType(field.type);
  const fits = initial.kind === 'account' ? type.startsWithAccount : type.moments?.[initial.kind];
  return fits
    ? undefined
    : say('{label} is {type}, which cannot begin with {value}.', {
        label: field.label,
        type: withArticle(type),
        value: { today: say('today'), now: say('the present moment'), account: say('the account') }[initial.kind],
      });
}

/** What a builder says when adding a field; the id is chosen from the label. */
export const newFieldSchema = z
  .strictObject({
    label: labelSchema,
    type: z.string().refine(isFieldType, sayLater('There is no such field type.')),
    settings: z.record(z.string(), z.unknown()).default({}),
    required: z.boolean().default(false),
    unique: z.boolean().default(false),
    help: z.string().max(1_000).default(''),
    initial: initialSchema.nullable().default(null),
    /** A CEL expression over the record’s fields: nobody types here, the value follows from the others. */
    calculation: calculationSchema.nullable().default(null),
    /**
     * Conditions on the records that a link may point at, wherever the field is written: *a berth of this pontoon*. They
     * compare columns of the choices with fields of this table; forms take them over and may narrow further.
     */
    narrowing: groupSchema.nullable().default(null),
  })
  .transform((field, context) => {
    if (!isFieldType(field.type)) return field;
    const read = fieldType(field.type).settingsSchema.safeParse(field.settings);
    if (read.success) return { ...field, settings: read.data as Settings };
    for (const issue of read.error.issues)
      context.addIssue({ code: 'custom', message: issue.message, path: ['settings', ...issue.path] });
    return z.NEVER;
  });
export type NewField = z.infer<typeof newFieldSchema>;
export type NewFieldInput = z.input<typeof newFieldSchema>;

export interface FieldDefinition extends NewField {
  readonly id: FieldId;
}

export interface TableDefinition {
  readonly id: TableId;
  readonly cabinet: string;
  readonly label: string;
  readonly description: string;
  /** `list`: an option list, whose fields are its levels and whose records the allowed combinations. */
  readonly kind: 'records' | 'list';
  /** The field that names a record, or a template such as `{letter} of {harbour}`; null while no field can. */
  readonly title: string | null;
  readonly fields: readonly FieldDefinition[];
  /** Fields out of use: their columns and history stay. */
  readonly retired: readonly FieldDefinition[];
  /** What a reference card of its records shows, as paths of columns; laid out once, placed in any form that links here. */
  readonly card: readonly string[];
  readonly rules: readonly Rule[];
  readonly constraints: readonly Constraint[];
  /** What else is written when one of its records is saved, in order. */
  readonly ripples?: readonly Ripple[];
  /** Taken out of use: its records stay, and what links to them. */
  readonly archived?: boolean;
  /** Raised with each change of the table. */
  readonly revision: number;
}

export type Tables = ReadonlyMap<TableId, TableDefinition>;

export const findField = (table: TableDefinition | undefined, id: FieldId): FieldDefinition | undefined =>
  table?.fields.find((field) => field.id === id);

export const typeOf = (field: FieldDefinition): FieldType => fieldType(field.type);

/** True for a field whose value the system gives: a sequence number, a calculation. */
export const isGiven = (field: FieldDefinition): boolean => !typeOf(field).editable || field.calculation !== null;

/** The table that a link field points at, or undefined for any other field. */
export const linkedTable = (field: FieldDefinition | undefined): TableId | undefined =>
  field && linksOne(field) ? String(field.settings.table) : undefined;

/** The table whose records a field of one or of several links points at. */
export const targetTable = (field: FieldDefinition | undefined): TableId | undefined =>
  field && isLinking(field) ? String(field.settings.table) : undefined;

/**
 * The field at a path of columns that begins in `table` and goes on through links: `berth.longest`. Undefined when a
 * step is missing or is not a link.
 */
export function fieldAtPath(tables: Tables, table: TableId, path: string): FieldDefinition | undefined {
  const [first = '', ...rest] = path.split('.');
  const field = findField(tables.get(table), first);
  if (rest.length === 0 || !field) return field;
  const next = linkedTable(field);
  return next === undefined ? undefined : fieldAtPath(tables, next, rest.join('.'));
}

/** Labels must differ within a table, so that a sentence can name a field: the problem with `label`, if there is one. */
export function labelTaken(label: string, taken: readonly string[], path: string): Problem | undefined {
  const key = label.toLocaleLowerCase('en');
  return taken.some((one) => one.toLocaleLowerCase('en') === key)
    ? { path, rule: 'label', message: say('“{label}” is there already. Give this one another label.', { label }) }
    : undefined;
}

/** True for a column that Fiche keeps itself: the audit fields, the version, the archive mark. */
export const isReserved = (column: string): boolean => RESERVED_COLUMNS.has(column);
