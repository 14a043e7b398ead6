import type { ListedGroup } from '@fiche/core/api';
import { useState } from 'react';
import { planRows } from './rowPlan.ts';

/** Which groups are open, and the rows that follow from it. All are open at first, and again when the list is grouped otherwise. */
export function useGroups(total: number, groups: readonly ListedGroup[] | null, by: string | null) {
  const [kept, setKept] = useState<{ readonly by: string | null; readonly closed: ReadonlySet<number> }>();
  const closed: ReadonlySet<number> = kept?.by === by ? kept.closed : new Set();
  return {
    plan: planRows(total, groups, closed),
    isOpen: (group: number): boolean => !closed.has(group),
    toggle(group: number): void {
      const next = new Set(closed);
      if (!next.delete(group)) next.add(group);
      setKept({ by, closed: next });
    },
  };
}
