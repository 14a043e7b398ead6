const TIME = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
});

/** A moment as the ledger shows it: `12 Mar 2026, 09:14`. */
export const showMoment = (iso: string): string => TIME.format(new Date(iso));

export interface StampProps {
  readonly createdAt: string;
  readonly createdBy: string;
  readonly changedAt: string;
  readonly changedBy: string;
}

/** The audit fields at the foot of a card. */
export function Stamp({ createdAt, createdBy, changedAt, changedBy }: StampProps) {
  return (
    <span className="stamp">
      added {showMoment(createdAt)} · {createdBy}
      {changedAt !== createdAt && ` — changed ${showMoment(changedAt)} · ${changedBy}`}
    </span>
  );
}
