/** A row of a grid: a record by its place in the list, or the head of a group by its place among the groups. */
export type PlannedRow =
  | { readonly kind: 'record'; readonly at: number }
  | { readonly kind: 'group'; readonly group: number };

/** Which rows a grid has: its records and, where they are grouped, the heads of their groups. */
export interface RowPlan {
  readonly count: number;
  rowAt(index: number): PlannedRow;
  /** The place of the record at a row, or of the first record of the group whose head it is. */
  recordNear(index: number): number;
}

/**
 * Plans the rows of a list of `total` records. The records of a closed group have no rows. Records that came in since the groups
 * were counted stand after the last one.
 */
export function planRows(
  total: number,
  groups: readonly { readonly count: number }[] | null,
  closed: ReadonlySet<number>,
): RowPlan {
  if (groups === null || groups.length === 0)
    return { count: total, rowAt: (index) => ({ kind: 'record', at: index }), recordNear: (index) => index };
  /** Of each group, the row of its head and the place of its first record. */
  const heads: { readonly row: number; readonly record: number }[] = [];
  let [row, record] = [0, 0];
  for (const [at, { count }] of groups.entries()) {
    heads.push({ row, record });
    row += 1 + (closed.has(at) ? 0 : count);
    record += count;
  }
  const rest = { row, record };
  /** The last group whose head is at a row or above it. */
  const groupAt = (index: number): number => {
    let [low, high] = [0, heads.length - 1];
    while (low < high) {
      const middle = Math.ceil((low + high) / 2);
      if ((heads[middle]?.row ?? 0) <= index) low = middle;
      else high = middle - 1;
    }
    return low;
  };
  const rowAt = (index: number): PlannedRow => {
    if (index >= rest.row) return { kind: 'record', at: rest.record + index - rest.row };
    const group = groupAt(index);
    const head = heads[group] ?? { row: 0, record: 0 };
    return index === head.row ? { kind: 'group', group } : { kind: 'record', at: head.record + index - head.row - 1 };
  };
  return {
    count: rest.row + Math.max(0, total - rest.record),
    rowAt,
    recordNear(index) {
      const found = rowAt(index);
      return found.kind === 'record' ? found.at : (heads[found.group]?.record ?? 0);
    },
  };
}
