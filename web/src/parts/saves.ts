import type { LineView } from '@fiche/core/api';

/**
 * Lines, newest first, by the save that wrote them: within a save the record first, then its lines, as they were
 * written. A transaction of the sample’s seed holds many saves.
 */
export function bySave(lines: readonly LineView[]): LineView[][] {
  const found = new Map<string, LineView[]>();
  for (const line of lines) {
    const save = `${line.transaction} ${line.at} ${line.account}`;
    found.set(save, [line, ...(found.get(save) ?? [])]);
  }
  return [...found.values()];
}
