import { z } from 'zod';
import { importPlanSchema } from '../imports/index.ts';
import { idSchema } from '../tables/index.ts';
import { contract } from './contract.ts';
import { empty, nothing, taskShape } from './shapes.ts';

const counts = z.object({
  rows: z.number(),
  add: z.number(),
  change: z.number(),
  skip: z.number(),
  bad: z.number(),
  repeated: z.number().optional(),
  written: z.number().optional(),
});
const importShape = z.object({
  id: z.number(),
  file: z.string(),
  size: z.number(),
  account: z.string(),
  at: z.string(),
  state: z.enum(['received', 'checked', 'written']),
  table: z.string().nullable(),
  counts: counts.nullable(),
});
export type ImportView = z.infer<typeof importShape>;

const problemsShape = z.array(z.object({ column: z.string(), message: z.string() }));

/** The largest file that can be imported, in bytes. */
export const IMPORT_MOST_BYTES = 200 * 1024 * 1024;

export const receiveImport = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/imports',
  summary: 'Send a file to import, as application/octet-stream',
  needs: 'import',
  query: z.object({ file: z.string().min(1).max(300) }),
  body: z.unknown(),
  answer: importShape,
});
export const listImports = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/imports',
  summary: 'Files that were sent lately',
  needs: 'import',
  query: empty,
  body: nothing,
  answer: z.object({ imports: z.array(importShape) }),
});
export const readImport = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/imports/{import}',
  summary: 'How far a file is',
  needs: 'import',
  query: empty,
  body: nothing,
  answer: importShape,
});
export const checkImport = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/imports/{import}/check',
  summary: 'Read the file under a plan and check every row; nothing is written',
  needs: 'import',
  query: empty,
  body: z.strictObject({ plan: importPlanSchema }),
  answer: taskShape,
});
export const runImport = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/imports/{import}/run',
  summary: 'Write the rows that were checked: all or nothing, or the good ones only',
  needs: 'import',
  query: empty,
  body: z.strictObject({ rows: z.enum(['all', 'good']) }),
  answer: taskShape,
});
const badRowsShape = z.object({
  /** The column names of the file, by position. */
  names: z.array(z.string()),
  rows: z.array(z.object({ number: z.number(), cells: z.array(z.string()), problems: problemsShape })),
});
export type BadRowsView = z.infer<typeof badRowsShape>;
export const badRows = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/imports/{import}/bad-rows',
  summary: 'The rows that cannot be imported, and why',
  needs: 'import',
  query: z.object({ after: z.coerce.number().int().min(0).default(0) }),
  body: nothing,
  answer: badRowsShape,
});
/** The longest text of a corrected cell, in characters. */
const CELL_MOST = 100_000;
const cellSchema = z
  .string()
  .max(CELL_MOST)
  .refine((text) => !text.includes('\0') && text.isWellFormed(), 'This cell has a character that no text can hold.');
export const correctRows = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/imports/{import}/corrections',
  summary: 'Correct rows that were found bad, and check each by itself; the next check of the file reads them so',
  needs: 'import',
  query: empty,
  body: z.strictObject({
    rows: z
      .array(z.strictObject({ number: z.number().int().min(0), cells: z.array(cellSchema).max(1_500) }))
      .min(1)
      .max(100),
  }),
  answer: z.object({ rows: z.array(z.object({ number: z.number(), problems: problemsShape })) }),
});
export const badRowsFile = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/imports/{import}/bad-rows/export',
  summary: 'Those rows as CSV, with a column of reasons, to be corrected and sent again',
  needs: 'import',
  query: empty,
  body: nothing,
  answer: z.string(),
});
export const matchLinks = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/imports/links',
  summary: 'Which tables and option lists have what the cells of a column name',
  needs: 'import',
  query: empty,
  body: z.strictObject({
    columns: z
      .array(z.strictObject({ name: z.string().max(500), cells: z.array(z.string().max(300)).max(60) }))
      .max(200),
  }),
  answer: z.object({
    links: z.array(z.object({ name: z.string(), table: idSchema, field: idSchema, share: z.number() })),
    /** Columns that carry the words of an option list’s levels: all levels of a list together. */
    levels: z.array(z.object({ name: z.string(), table: idSchema, column: idSchema })),
  }),
});
