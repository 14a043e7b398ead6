import type { OpenPage } from '@fiche/core/api';
import { type EntryState, enterUnsaved, type LinkedRecord, prefilled, type Step } from '@fiche/core/entry';
import type { Value } from '@fiche/core/fields';
import type { FieldId } from '@fiche/core/tables';
import type { PageAddress } from './address.ts';

/** What a page begins with: the record of a personal link, then what its address says. */
export function begin(opened: EntryState, { given }: OpenPage, { texts }: PageAddress): Step {
  const fields = Object.entries(given?.values ?? {}).map(([field, value]) => ({
    field,
    value: value as Value,
    ...(given?.linked[field] ? { linked: given.linked[field] as LinkedRecord } : {}),
  }));
  const first = enterUnsaved(opened, { record: null, fields, lines: {} }, true);
  const second = prefilled(first.state, texts);
  return { state: second.state, requests: [...first.requests, ...second.requests] };
}

/** The fields that cannot be changed here: that of a personal link, and those that the page locks and its address fills. */
export const lockedFields = ({ given, definition }: OpenPage, { texts }: PageAddress): ReadonlySet<FieldId> =>
  new Set([
    ...Object.keys(given?.values ?? {}),
    ...(definition.page?.locked ?? []).filter((field) => (texts[field] ?? '') !== ''),
  ]);
