/** What the lines of a table did in one short time, such as a minute. */
export interface LineSpan {
  /** The moment of its newest line, as the database writes it. */
  readonly at: string;
  /** The lowest and the highest id of its lines. */
  readonly first: number;
  readonly last: number;
  /** Lines that add records, that erase them, and all others. */
  readonly added: number;
  readonly erased: number;
  readonly changes: number;
}

/** Up to where a checkpoint holds the lines of a table: to a moment, which is that of a line, and to the id of the newest one. */
export interface CheckpointCut {
  readonly at: string;
  readonly line: number;
  /** Changes between the checkpoint before and this one. */
  readonly changes: number;
}

/**
 * Where checkpoints of a table are made: as soon as there are half as many changes since the last one as there are records, and no
 * fewer than `least`. So all checkpoints together hold at most twice as many records as there are changes, and from one of them to
 * a moment before the next no more lines are added up than half of the records, and those that add records. A cut parts lines by
 * their moment and by their id alike: where saves overlap, it comes after them.
 *
 * @param spans The lines since the last checkpoint, oldest first.
 * @param records The records that this one holds; 0 where there is none.
 */
export function checkpointCuts(spans: readonly LineSpan[], records: number, least: number): CheckpointCut[] {
  /** The lowest id of all lines after each span. */
  const after: number[] = [];
  let lowest = Number.POSITIVE_INFINITY;
  for (let n = spans.length - 1; n >= 0; n--) {
    after[n] = lowest;
    lowest = Math.min(lowest, spans[n]?.first ?? lowest);
  }
  const cuts: CheckpointCut[] = [];
  let [held, changes, line] = [records, 0, 0];
  for (const [n, span] of spans.entries()) {
    held += span.added - span.erased;
    changes += span.changes;
    line = Math.max(line, span.last);
    if (changes < Math.max(least, held / 2) || line >= (after[n] as number)) continue;
    cuts.push({ at: span.at, line, changes });
    changes = 0;
  }
  return cuts;
}
