import type { Value, Values } from '../fields/index.ts';
import type { PreparedField, PreparedForm } from '../forms/index.ts';
import type { Opening } from './state.ts';

/** The values that an entry begins with: the record's, or each field's default. */
export function initialValues(form: PreparedForm, opening: Opening): Values {
  const { record } = opening;
  return Object.fromEntries(
    [...form.fields.values()].map((field) => [
      field.id,
      record ? (record.values[field.id] ?? null) : initialValue(field, opening),
    ]),
  );
}

function initialValue({ initial, field }: PreparedField, opening: Opening): Value {
  switch (initial?.kind) {
    case 'value':
      return initial.value;
    case 'today':
      return field.type === 'dateTime' ? `${opening.now.slice(0, 10)}T00:00` : opening.now.slice(0, 10);
    case 'now':
      return field.type === 'date' ? opening.now.slice(0, 10) : opening.now;
    case 'account':
      return opening.account;
    case undefined:
      return null;
  }
}
