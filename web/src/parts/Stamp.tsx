import { formatMoment } from '@fiche/core/fields';
import textCss from './text.module.css';

/** A moment as the ledger shows it. */
export const showMoment = formatMoment;

interface StampProps {
  readonly createdAt: string;
  readonly createdBy: string;
  readonly changedAt: string;
  readonly changedBy: string;
}

/** The audit fields at the foot of a card. */
export function Stamp({ createdAt, createdBy, changedAt, changedBy }: StampProps) {
  return (
    <span className={textCss.stamp}>
      added {showMoment(createdAt)} · {createdBy}
      {changedAt !== createdAt && ` — changed ${showMoment(changedAt)} · ${changedBy}`}
    </span>
  );
}
