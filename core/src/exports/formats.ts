import { z } from 'zod';
import { pathSchema } from '../conditions/index.ts';

/** The open formats in which records are exported, as people choose among them. */
export const EXPORT_FORMATS = [
  { name: 'csv', label: 'CSV', detail: 'For spreadsheets and other programs; can be imported again' },
  { name: 'xlsx', label: 'Workbook (XLSX)', detail: 'Numbers and dates as such, names stay in sight' },
  { name: 'json', label: 'JSON', detail: 'One list of records, for programs' },
  { name: 'jsonl', label: 'JSON Lines', detail: 'A record in each line, for programs' },
  { name: 'xml', label: 'XML', detail: 'An element for each record, for programs' },
  { name: 'ics', label: 'Calendar (iCalendar)', detail: 'An event for each record with a date' },
] as const;
export type ExportFormat = (typeof EXPORT_FORMATS)[number]['name'];
const [first, ...others] = EXPORT_FORMATS.map((one) => one.name);
export const exportFormatSchema = z.enum([first as ExportFormat, ...others]);

/** How records are written into a file. */
export const exportSettingsShape = {
  format: exportFormatSchema.default('csv'),
  /** Links by the titles of their records, or by their numbers; with numbers each record tells its own. */
  links: z.enum(['titles', 'numbers']).default('titles'),
  /** For a calendar: the date on which a record begins, and the one on which it ends. */
  begins: pathSchema.optional(),
  ends: pathSchema.optional(),
};
export const exportSettingsSchema = z.strictObject(exportSettingsShape);
export type ExportSettings = z.infer<typeof exportSettingsSchema>;
