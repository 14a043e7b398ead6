import type { Unsaved } from '@fiche/core/entry';
import type { RefObject } from 'react';
import type { CardPageProps, PlacedRecord } from './card.ts';
import type { Erasing } from './EraseRecord.tsx';
import type { KeptWork } from './unsavedWork.ts';

/** What a card begins with; `left` where it is work that was left unsaved. */
export interface StartedWith {
  readonly unsaved: Unsaved;
  readonly left?: KeptWork;
  /** Kept from the card before: nobody’s unsaved work. */
  readonly begun?: boolean;
}

export interface FilledCardProps extends CardPageProps {
  readonly opened?: PlacedRecord;
  /** Names this card among the work that is kept in this browser. */
  readonly place: string;
  readonly start?: StartedWith;
  /** The history sheet stays open from one card to the next. */
  readonly historyOpen: boolean;
  setHistoryOpen(open: boolean): void;
  readonly erasing: Erasing | undefined;
  setErasing(erasing: Erasing | undefined): void;
  /** The fields whose values the next blank card begins with. */
  readonly kept: ReadonlySet<string>;
  setKept(kept: ReadonlySet<string>): void;
  /** The field in which the focus was when the card was saved. */
  readonly focus: RefObject<string | undefined>;
  /** What was typed into the card before while it was being saved: the card that takes its place goes on with it. */
  readonly typing: RefObject<(() => Unsaved | undefined) | undefined>;
  onAnother(start: Unsaved | undefined): void;
}
