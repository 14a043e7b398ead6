import { formatMoment } from '@fiche/core/fields';
import { type Stamp as StampOfRecord, stampWords } from '@fiche/core/history';
import textCss from './text.module.css';

/** A moment as the ledger shows it. */
export const showMoment = formatMoment;

/** The audit fields at the foot of a card. */
export const Stamp = (stamp: StampOfRecord) => <span className={textCss.stamp}>{stampWords(stamp)}</span>;
