import type { ExportFormat } from '@fiche/core/exports';
import { calendar } from './calendar.ts';
import { csv } from './csv.ts';
import type { FileFormat } from './format.ts';
import { json, jsonLines } from './json.ts';
import { workbook } from './workbook.ts';
import { xml } from './xml.ts';

export { attachmentNamed } from './attachmentNamed.ts';
export { cellAsText, csvLines, isGuarded } from './csv.ts';
export type { FileCell, FileColumn, FileHead, FileRow, Holds } from './format.ts';

/** The formats in which records are written, by name. */
export const FORMATS: Readonly<Record<ExportFormat, FileFormat>> = {
  csv,
  xlsx: workbook,
  json,
  jsonl: jsonLines,
  xml,
  ics: calendar,
};
