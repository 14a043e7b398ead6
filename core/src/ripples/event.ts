import { isBlank, type Value, type Values } from '../fields/index.ts';
import type { FieldChange } from '../history/index.ts';
import { say } from '../languages/index.ts';
import { BEFORE, type EventKind, type FieldDefinition, type RecordId, type TableDefinition } from '../tables/index.ts';

/** A save of one record, as ripples read it. */
export interface RippleEvent {
  readonly kind: EventKind;
  readonly record: RecordId;
  /** What the record is called, and what the save changed, for words. */
  readonly title: string;
  readonly changes: readonly FieldChange[];
  /** The ids of the fields that changed. */
  readonly changed: ReadonlySet<string>;
  /** Its values after the save by field, and those before by the same names behind `before__`; both blank where there was none. */
  readonly values: Values;
  /** What is known of the records that its links point at, by link, then by path. */
  readonly facts: Readonly<Record<string, Values>>;
  /** What linked records are called, by `table:id`: those that messages name. */
  readonly titles: ReadonlyMap<string, string>;
  /** Who saved, and the civil moment. */
  readonly account: string;
  readonly now: string;
}

/** A field as a ripple reads it: its value and nothing that a form would do with it. */
const plain = (field: FieldDefinition, id = field.id, label = field.label): FieldDefinition => ({
  ...field,
  id,
  label,
  required: false,
  unique: false,
  initial: null,
  calculation: null,
  narrowing: null,
});

/** The table that the sentences of a ripple are about: each field of the record, and each as it was before the save. */
export const eventTable = (table: TableDefinition): TableDefinition => ({
  ...table,
  fields: [
    ...table.fields.map((field) => plain(field)),
    ...table.fields.map((field) => plain(field, BEFORE + field.id, say('{label} before', { label: field.label }))),
  ],
  rules: [],
  constraints: [],
});

/** The values of an event: after the save, and before it under their own names. `before` is null where there was no record. */
export const eventValues = (before: Values | null, after: Values): Values => ({
  ...after,
  ...Object.fromEntries(Object.keys(after).map((id) => [BEFORE + id, before?.[id] ?? null])),
});

/** The value at a path of an event: `waived`, `before__waived`, `vessel.owner`. Blank is null. */
export function readEvent({ values, facts }: RippleEvent, path: string): Value {
  const dot = path.indexOf('.');
  if (dot < 0) return values[path] ?? null;
  const link = path.slice(0, dot);
  return isBlank(values[link]) ? null : (facts[link]?.[path.slice(dot + 1)] ?? null);
}

/** What a save changed, as one line of text: `Waived: no → yes; Reason: storm`. */
export const summaryOf = ({ kind, changes, title }: RippleEvent): string => {
  const said = changes.map(({ label, before, after }) =>
    kind === 'added'
      ? `${label}: ${after}`
      : `${label}: ${before === '' ? 'blank' : before} → ${after === '' ? 'blank' : after}`,
  );
  return `${title} ${kind}${said.length === 0 ? '' : `. ${said.join('; ')}`}`;
};

/** A text of at most so many characters; one that is longer ends in `…`. */
export const shortened = (text: string, most: number): string =>
  text.length <= most ? text : `${text.slice(0, most - 1)}…`;
