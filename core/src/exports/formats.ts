import { z } from 'zod';
import { pathSchema } from '../conditions/index.ts';
import { sayLater } from '../languages/index.ts';

/** The open formats in which records are exported, as people choose among them. */
export const EXPORT_FORMATS = [
  {
    name: 'csv',
    label: sayLater('CSV'),
    detail: sayLater('For spreadsheets and other programs; can be imported again'),
  },
  {
    name: 'xlsx',
    label: sayLater('Workbook (XLSX)'),
    detail: sayLater('Numbers and dates as such, names stay in sight'),
  },
  { name: 'json', label: sayLater('JSON'), detail: sayLater('One list of records, for programs') },
  { name: 'jsonl', label: sayLater('JSON Lines'), detail: sayLater('A record in each line, for programs') },
  { name: 'xml', label: sayLater('XML'), detail: sayLater('An element for each record, for programs') },
  { name: 'ics', label: sayLater('Calendar (iCalendar)'), detail: sayLater('An event for each record with a date') },
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
