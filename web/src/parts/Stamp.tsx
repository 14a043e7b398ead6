import { formatDay } from '@fiche/core/fields';
import { civilOf } from '@fiche/core/office';
import textCss from './text.module.css';

/** A moment as the ledger shows it, in the office’s time zone: `12 Mar 2026, 09:14`. */
export function showMoment(iso: string): string {
  const civil = civilOf(new Date(iso));
  return `${formatDay(civil.slice(0, 10))}, ${civil.slice(11)}`;
}

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
