import type { RecordView } from '@fiche/core/api';
import type { PreparedForm } from '@fiche/core/forms';
import type { IdOfForm } from '@fiche/core/tables';

export type PlacedRecord = RecordView & {
  readonly place: {
    position: number;
    total: number;
    previous: number | null;
    next: number | null;
    first: number | null;
    last: number | null;
  };
  /** Where it stands in a view: whether it is among its records. */
  readonly inView?: boolean;
};

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
  /** What stands behind the address of every card: the view, where the list names it. */
  readonly search?: string;
  /** The record to change; a blank card without. */
  readonly record?: string;
}
