import type { RecordId } from '@fiche/core/tables';

/** Which records of a list are selected: some by number, or all that it finds, but for some. */
export type Selection =
  | { readonly kind: 'some'; readonly ids: ReadonlySet<RecordId> }
  | { readonly kind: 'all'; readonly except: ReadonlySet<RecordId> };

export const NOTHING_SELECTED: Selection = { kind: 'some', ids: new Set() };
export const ALL_SELECTED: Selection = { kind: 'all', except: new Set() };

export const isSelected = (selection: Selection, id: RecordId): boolean =>
  selection.kind === 'some' ? selection.ids.has(id) : !selection.except.has(id);

/** How many records are selected, of so many that the list finds. */
export const countSelected = (selection: Selection, total: number): number =>
  selection.kind === 'some' ? selection.ids.size : Math.max(0, total - selection.except.size);

/** The selection with some records taken into it, or out of it. */
export function withSelected(selection: Selection, ids: readonly RecordId[], on: boolean): Selection {
  const named = new Set(selection.kind === 'some' ? selection.ids : selection.except);
  // What is named is in it where some are selected, and out of it where all are.
  for (const id of ids)
    if (on === (selection.kind === 'some')) named.add(id);
    else named.delete(id);
  return selection.kind === 'some' ? { kind: 'some', ids: named } : { kind: 'all', except: named };
}
