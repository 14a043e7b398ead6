import type { ListedRecord } from '@fiche/core/api';
import { useState } from 'react';
import { isSelected, type Selection, withSelected } from './selection.ts';

/** Which records are selected, and what becomes of that; a grid without it selects none. */
export interface Selecting {
  readonly selection: Selection;
  onSelect(selection: Selection): void;
}

/** Selects rows by their place, one by one or from the last one to another. */
export function useSelecting(selecting: Selecting | undefined, recordAt: (at: number) => ListedRecord | undefined) {
  const [last, setLast] = useState<number>();
  const select = (at: number): void => {
    const record = recordAt(at);
    if (!selecting || !record) return;
    setLast(at);
    selecting.onSelect(withSelected(selecting.selection, [record.id], !isSelected(selecting.selection, record.id)));
  };
  const selectTo = (at: number, range: boolean): void => {
    if (!range || last === undefined) {
      select(at);
      return;
    }
    const [from, to] = [Math.min(last, at), Math.max(last, at)];
    const ids = Array.from({ length: to - from + 1 }, (_, step) => recordAt(from + step)?.id ?? 0).filter(Boolean);
    if (selecting) selecting.onSelect(withSelected(selecting.selection, ids, true));
    setLast(at);
  };
  return { select, selectTo };
}
