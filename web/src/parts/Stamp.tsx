import { formatMoment } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { sayWith } from './sayWith.tsx';
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
      {sayWith('added {createdAt} · {createdBy}{changedAt}', {
        createdAt: showMoment(createdAt),
        createdBy,
        changedAt:
          changedAt !== createdAt &&
          ` ${say('— changed {changedAt} · {changedBy}', { changedAt: showMoment(changedAt), changedBy })}`,
      })}
    </span>
  );
}
