import type { RecordPlace, RecordView } from '@fiche/core/api';
import type { PreparedForm } from '@fiche/core/forms';
import type { IdOfForm } from '@fiche/core/tables';
import type { RefObject } from 'react';

export type PlacedRecord = RecordView & {
  /** Not counted yet in a table of very many records: see `usePlaceNumbers`. */
  readonly place: RecordPlace;
  /** Where it stands in a view: whether it is among its records. */
  readonly inView?: boolean;
};

/** A card that stands beside a list: which one is said in the address of the list. */
export interface BesideList {
  /** The address of the list with the card of a record beside it. */
  cardAt(record: number): string;
  /** The address of the list with no card beside it. */
  readonly list: string;
  /** The record whose card is to take the focus once it is drawn; blank again when it has. */
  readonly wantsFocus: RefObject<number | undefined>;
}

/** Where the card of a record is. */
export const cardAddress = (
  { path, search = '', beside }: Pick<CardPageProps, 'path' | 'search' | 'beside'>,
  record: number,
): string => beside?.cardAt(record) ?? `${path}/${record}${search}`;

export interface CardPageProps {
  readonly form: PreparedForm;
  readonly version: number | null;
  /** Where the form runs, and where its cards live on the page's own address. */
  readonly base: string;
  readonly path: string;
  /** The form’s id, where it is not a table’s own card: its lines are read with a record. */
  readonly formId?: IdOfForm;
  /** The view among whose records it stands: the form’s own, or the one of the list that it was opened from. */
  readonly view?: number | null;
  /** The answers to what that view asks each time, as the address has them. */
  readonly asked?: string | null;
  /** What stands behind the address of every card: the view, where the list names it. */
  readonly search?: string;
  /** Set where it stands beside a list. */
  readonly beside?: BesideList;
  /** The record to change; a blank card without. */
  readonly record?: string;
}
