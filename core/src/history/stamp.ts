import { formatMoment } from '../fields/index.ts';
import { say } from '../languages/index.ts';

/** The audit fields of a record: who added and last changed it, when. */
export interface Stamp {
  readonly createdAt: string;
  readonly createdBy: string;
  readonly changedAt: string;
  readonly changedBy: string;
}

/** The audit fields in words, as they stand at the foot of a card: `added 17 Aug 2026, 09:00 · quayclerk`, and who changed it since. */
export function stampWords({ createdAt, createdBy, changedAt, changedBy }: Stamp): string {
  const added = { createdAt: formatMoment(createdAt), createdBy };
  return changedAt === createdAt
    ? say('added {createdAt} · {createdBy}', added)
    : say('added {createdAt} · {createdBy} — changed {changedAt} · {changedBy}', {
        ...added,
        changedAt: formatMoment(changedAt),
        changedBy,
      });
}
