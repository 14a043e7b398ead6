import type { Value, Values } from '../fields/index.ts';
import type { PreparedForm } from '../forms/index.ts';
import { type FieldDefinition, type Initial, typeOf } from '../tables/index.ts';
import type { EntryState, Opening, Phase } from './state.ts';

/** The values that an entry is opened with: those of the record, or each field’s default. */
function initialValues(form: PreparedForm, opening: Opening): Values {
  const { record } = opening;
  return Object.fromEntries(
    [...form.fields.values()].map((field) => [
      field.id,
      record ? (record.values[field.id] ?? null) : defaultOf(field.initial, field.field, opening),
    ]),
  );
}

/** What a default gives a field, for an account and at a civil moment; null without one. */
export function defaultOf(
  initial: Initial | null,
  field: FieldDefinition,
  opening: Pick<Opening, 'account' | 'now'>,
): Value {
  switch (initial?.kind) {
    case 'value':
      return initial.value;
    case 'today':
    case 'now':
      return typeOf(field).moments?.[initial.kind]?.(opening.now) ?? null;
    case 'account':
      // A program writes under the name of its token, which is no account.
      return typeOf(field).accept(opening.account, field.settings).ok ? opening.account : null;
    default:
      return null;
  }
}

/** No save is under way. */
export const OPEN: Phase = { kind: 'open' };

/** An entry before anything is derived or propagated. */
export function blankState(form: PreparedForm, opening: Opening): EntryState {
  const original = initialValues(form, opening);
  return {
    form,
    opening,
    original,
    values: original,
    linked: opening.record?.linked ?? {},
    hidden: {},
    fields: Object.fromEntries(
      Object.entries(original).map(([id, propagated]) => [id, { propagated, origin: opening.record?.origins?.[id] }]),
    ),
    broken: {},
    reasons: {},
    refusals: [],
    requestsMade: 0,
    lines: {},
    past: [],
    linesMade: 0,
    mode: 'filled',
    phase: OPEN,
  };
}
