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
};

export interface CardPageProps {
  readonly form: PreparedForm;
  readonly version: number | null;
  /** Where the form runs, and where its cards live on the page's own address. */
  readonly base: string;
  readonly path: string;
  /** The form’s id, where it is not a table’s own card: its lines are read with a record. */
  readonly formId?: IdOfForm;
  /** The record to change; a blank card without. */
  readonly record?: string;
}
