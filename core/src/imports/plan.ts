import { z } from 'zod';
import { sayLater } from '../languages/index.ts';
import { idSchema, labelSchema, newFieldSchema } from '../tables/index.ts';

/** How a file is read into rows of cells. */
export const readingSchema = z.strictObject({
  kind: z.enum(['csv', 'xlsx', 'json', 'jsonl', 'xml']),
  encoding: z.enum(['utf-8', 'utf-16le', 'utf-16be', 'windows-1252']).default('utf-8'),
  separator: z.string().length(1).default(','),
  /** The sheet of a workbook, or the list of records in XML, counted from 1. */
  sheet: z.int().min(1).max(1_000).default(1),
  /** The row that names the columns, counted from 0; rows above it are titles. JSON and XML have their names in every record. */
  header: z.int().min(0).max(1_000).default(0),
});
export type Reading = z.infer<typeof readingSchema>;

const columnSchema = z.strictObject({
  /** Its name in the file. */
  name: z.string().max(500),
  /** Its place in a row, counted from 0; for JSON the order in which the names were first seen. */
  at: z.int().min(0).max(2_000),
  /** Where it goes: a field that is there, a new one, or nowhere. */
  to: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('field'), field: idSchema }),
    z.strictObject({ kind: z.literal('new'), field: newFieldSchema }),
    z.strictObject({ kind: z.literal('nowhere') }),
  ]),
  dates: z.enum(['dayFirst', 'monthFirst']).default('dayFirst'),
  decimal: z.enum(['.', ',']).default('.'),
  /** For a link: the column of the linked table that the cells name. */
  matchOn: idSchema.nullable().default(null),
});
export type ImportColumn = z.infer<typeof columnSchema>;

/** How a file is imported: how it is read, where its columns go, and what happens to records that exist already. */
export const importPlanSchema = z.strictObject({
  reading: readingSchema,
  into: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('table'), table: idSchema }),
    z.strictObject({ kind: z.literal('new'), label: labelSchema }),
  ]),
  columns: z
    .array(columnSchema)
    .min(1, sayLater('The file has no columns.'))
    .max(1_500, sayLater('At most 1,500 columns fit in one table. Let some go nowhere, or divide the file.')),
  /** The fields by which a row finds its record; without, every row is a new one. */
  key: z.array(idSchema).max(4).default([]),
  /** What becomes of a row whose record is there, and of one whose record is not. */
  found: z.enum(['change', 'skip']).default('change'),
  missing: z.enum(['add', 'skip']).default('add'),
  /** Why rows that ask rules are against come in nonetheless; without a reason they are refused. */
  reason: z.string().trim().min(1).max(500).nullable().default(null),
  /** A form through which each row comes in, as if it were entered there: its narrowing, fills and rules count as well. */
  form: idSchema.nullable().default(null),
  /** The table's revision that the rows were checked under; kept by the check. */
  revision: z.int().optional(),
});
export type ImportPlan = z.infer<typeof importPlanSchema>;

export interface ImportCounts {
  readonly rows: number;
  readonly add: number;
  readonly change: number;
  readonly skip: number;
  readonly bad: number;
  /** Rows that only say the names again; left out where none was looked for. */
  readonly repeated?: number;
}
