export { CardPage } from './CardPage.tsx';
export { RecordGrid } from './RecordGrid.tsx';
export { RecordPage } from './RecordPage.tsx';
export { RowsPage } from './RowsPage.tsx';
export { recentRecords } from './recentRecords.ts';
export { recordFilterOf } from './recordFilter.ts';
export { ALL_SELECTED, countSelected, NOTHING_SELECTED, type Selection } from './selection.ts';
export { type UnfinishedWork, unfinishedWork } from './unsavedWork.ts';
export { useTableForm } from './useTableForm.ts';
