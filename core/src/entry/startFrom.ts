import { isBlank } from '../fields/index.ts';
import { SELF, type Start } from '../forms/index.ts';
import type { OpenedRecord } from './state.ts';
import type { Unsaved, UnsavedField } from './unsaved.ts';

/** What a blank card of another form begins with, out of a record: values that are blank in it are left to the form. */
export function startedFrom(record: OpenedRecord & { readonly title: string }, pairs: Start['pairs']): Unsaved {
  const fields = pairs.flatMap(({ from, to }): UnsavedField[] => {
    if (from === SELF) return [{ field: to, value: record.id, linked: { title: record.title, facts: {} } }];
    const value = record.values[from] ?? null;
    const linked = record.linked[from];
    return isBlank(value) ? [] : [{ field: to, value, ...(linked ? { linked } : {}) }];
  });
  return { record: null, fields, lines: {} };
}
