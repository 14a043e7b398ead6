import { isBlank, type Value, type Values } from '../fields/index.ts';
import { homeOf, OWN, type Writing } from './destination.ts';

/** What a form gives to one of the records that it writes. */
export interface PartValues {
  readonly values: Values;
  /** Whether anything was entered for it: where nothing was, a destination is not written. */
  readonly given: boolean;
}

/** The values of an entry by the record that they go to, under the names of its table’s fields. */
export function valuesByPart(form: Writing, values: Values): ReadonlyMap<string, PartValues> {
  const parts = new Map<string, { values: Record<string, Value>; given: boolean }>();
  const open = (part: string) => {
    const known = parts.get(part) ?? { values: {}, given: part === OWN };
    parts.set(part, known);
    return known;
  };
  open(OWN);
  for (const one of form.destinations?.of ?? []) open(one.id);
  for (const [id, value] of Object.entries(values)) {
    const { part, field } = homeOf(form, id);
    const here = open(part);
    here.values[field] = value;
    here.given ||= !isBlank(value);
  }
  for (const { from, of, to } of form.destinations?.copies ?? []) {
    if (!(from in values)) continue;
    open(of).values[to] = values[from] ?? null;
    // A key alone is enough to find a record by.
    open(of).given ||= !isBlank(values[from] ?? null);
  }
  return parts;
}
