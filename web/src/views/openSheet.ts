import type { TableDefinition } from '@fiche/core/tables';
import type { SelectedRecords } from '../exports/index.ts';
import type { OpenChange } from './listSelection.ts';
import type { useListing } from './useListing.ts';
import type { useViews } from './useViews.ts';

/** What leaves the office: the records that were selected when the sheet was opened, or all that the list finds meanwhile. */
export interface OpenExport {
  readonly kind: 'export';
  readonly selected?: { readonly records: SelectedRecords; readonly count: number };
}

/** The sheet that is open beside a list. */
export type OpenSheet = 'listing' | 'shown' | 'view' | 'newView' | OpenChange | OpenExport;

export const isExport = (sheet: OpenSheet | undefined): sheet is OpenExport =>
  typeof sheet === 'object' && sheet.kind === 'export';

/** A list as it is shown, and the sheet beside it. */
export interface ShownList {
  readonly table: TableDefinition;
  readonly views: ReturnType<typeof useViews>;
  readonly shown: ReturnType<typeof useListing>;
  readonly sheet: OpenSheet | undefined;
  setSheet(sheet: OpenSheet | undefined): void;
}
