import type { ChangeOfMany, ChosenRecords } from '@fiche/core/changes';
import type { Value } from '@fiche/core/fields';
import { MOST_MERGED } from '@fiche/core/merging';
import type { FieldId, RecordId } from '@fiche/core/tables';
import type { Listing } from '@fiche/core/views';
import { useState } from 'react';
import type { SelectedRecords } from '../exports/index.ts';
import {
  ALL_SELECTED,
  NOTHING_SELECTED,
  type PastedBlock,
  type recordFilterOf,
  type Selection,
} from '../records/index.ts';

/** A change of the records that were selected when its sheet was opened. */
export interface OpenChange {
  readonly kind: ChangeOfMany['kind'];
  /** What is done, where that is known already. */
  readonly what?: ChangeOfMany;
  readonly leftOut?: readonly string[];
  readonly records: ChosenRecords;
  readonly count: number;
}
/** A block that was pasted over a list, as a change of the records that it meets. */
export const pasted = ({ what, leftOut }: PastedBlock): OpenChange => ({
  kind: 'paste',
  what,
  leftOut,
  records: { kind: 'some', ids: what.rows.map(([id]) => id) },
  count: what.rows.length,
});

/** A change of many that puts one value, or none, into a field. */
export const filled = (field: FieldId, value: Value): ChangeOfMany => ({
  kind: 'set',
  set: [{ field, becomes: value === null ? { kind: 'blank' } : { kind: 'value', value } }],
});

/** The records that are selected in a list; none in another list. `list` tells lists apart. */
export function useSelection(list: string) {
  const [kept, setKept] = useState<{ readonly list: string; readonly selection: Selection }>();
  return {
    selection: kept?.list === list ? kept.selection : NOTHING_SELECTED,
    select: (selection: Selection): void => setKept({ list, selection }),
    clear: (): void => setKept(undefined),
  };
}

/** What of a list is exported or printed: all that it finds, or what is selected in it. */
export const exportedRecords = (
  listing: Listing,
  asked: ReturnType<typeof recordFilterOf> & { readonly linking?: string },
  selection: Selection = ALL_SELECTED,
): SelectedRecords => ({
  listing,
  ...asked,
  ...(selection.kind === 'some'
    ? { only: [...selection.ids] }
    : selection.except.size > 0
      ? { except: [...selection.except] }
      : {}),
});

/** The selected records as a change of many names them. */
export const chosen = (
  selection: Selection,
  listing: Listing,
  asked: ReturnType<typeof recordFilterOf> & { readonly linking?: string },
): ChosenRecords =>
  selection.kind === 'some'
    ? { kind: 'some', ids: [...selection.ids] }
    : { kind: 'all', listing, ...asked, except: [...selection.except] };

/** The selected records where they are few enough to be compared side by side, and named one by one. */
export const comparable = (selection: Selection): readonly RecordId[] | undefined =>
  selection.kind === 'some' && selection.ids.size >= 2 && selection.ids.size <= MOST_MERGED
    ? [...selection.ids]
    : undefined;
