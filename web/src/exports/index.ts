export { ExportSheet } from './ExportSheet.tsx';
export { paperNamed } from './PrintPart.tsx';
export type { SelectedRecords } from './selectedRecords.ts';
