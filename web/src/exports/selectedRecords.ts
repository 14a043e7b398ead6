import type { ExportOrder } from '@fiche/core/api';

/** The records of a list that leave the office: all that it finds, or those that are selected in it. */
export type SelectedRecords = Pick<
  ExportOrder,
  'listing' | 'search' | 'archived' | 'linking' | 'asOf' | 'only' | 'except'
>;
