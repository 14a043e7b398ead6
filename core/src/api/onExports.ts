import { z } from 'zod';
import { exportSettingsShape } from '../exports/index.ts';
import { labelLayoutSchema } from '../labels/index.ts';
import { say } from '../languages/index.ts';
import { orientationSchema, paperSchema } from '../print/index.ts';
import { listingSchema, MOST_EXPORTED_SINGLY } from '../views/index.ts';
import { contract } from './contract.ts';
import { momentInAddress } from './onPast.ts';
import { recordFilter } from './onRecords.ts';
import { answersInAddress, empty, jsonInAddress, nothing } from './shapes.ts';

const file = z.unknown();
const which = { ...recordFilter, asOf: momentInAddress.optional() };

export const exportTable = contract({
  method: 'GET',
  path: '/api/tables/{table}/export',
  summary: 'The records of a table that a search finds, with all of its fields, in order of entry, as a file',
  needs: 'export',
  query: z.object({ ...which, ...exportSettingsShape }),
  body: nothing,
  answer: file,
});
export const exportView = contract({
  method: 'GET',
  path: '/api/tables/{table}/views/{view}/export',
  summary: 'The records of a view as a file',
  needs: 'export',
  query: z.object({ ...which, ...exportSettingsShape, asked: answersInAddress }),
  body: nothing,
  answer: file,
});

/** A listing as JSON in an address, so that a link downloads it. */
const listingInAddress = jsonInAddress(8_000).pipe(listingSchema);

/** Numbers of records in an address: `12,15,17`. */
const numbersInAddress = z
  .string()
  .regex(/^[1-9]\d{0,15}(,[1-9]\d{0,15})*$/, 'Write numbers of records with commas between them.')
  .max(8_000, {
    error: () => say('At most {count} records are exported one by one.', { count: MOST_EXPORTED_SINGLY }),
  })
  .transform((text) => text.split(',').map(Number))
  .optional();

export const exportRows = contract({
  method: 'GET',
  path: '/api/tables/{table}/rows/export',
  summary: 'The records of a listing that is no view yet as a file',
  needs: 'export',
  query: z.object({
    listing: listingInAddress,
    ...which,
    ...exportSettingsShape,
    /** Only these of its records, or all but these. */
    only: numbersInAddress,
    except: numbersInAddress,
  }),
  body: nothing,
  answer: file,
});

/** More records than these are not named one by one. */
const MOST_NAMED = 20_000;
const named = z
  .array(z.int().min(1))
  .max(MOST_NAMED, {
    error: () => say('At most {count} records are named one by one.', { count: MOST_NAMED }),
  })
  .optional();

/** Labels of records: on which sheets, from which label of the first sheet on, counted from 1. */
export const labelsShape = { layout: labelLayoutSchema, start: z.int().min(1).max(480).default(1) };

/** Records of a listing, as a person selected them. */
export const selectedShape = { listing: listingSchema, ...which, only: named, except: named };

/** What an export writes: records of a listing, as a person selected them, and how. */
export const exportOrderSchema = z.strictObject({
  ...selectedShape,
  ...exportSettingsShape,
  /** A PDF in place of a file of records: the list, or labels. */
  print: z
    .discriminatedUnion('kind', [
      z.strictObject({
        kind: z.literal('list'),
        paper: paperSchema,
        orientation: orientationSchema.default('auto'),
      }),
      z.strictObject({ kind: z.literal('labels'), ...labelsShape }),
    ])
    .optional(),
  /** What the file is called, without its ending. */
  name: z.string().trim().min(1).max(120).optional(),
});
export type ExportOrder = z.infer<typeof exportOrderSchema>;

const exportState = z.object({
  id: z.string(),
  /** How many records it writes, and has written. */
  total: z.number(),
  done: z.number(),
  state: z.enum(['waiting', 'running', 'done', 'cancelled', 'failed']),
});
export type ExportState = z.infer<typeof exportState>;

export const orderExport = contract({
  method: 'POST',
  path: '/api/tables/{table}/exports',
  summary:
    'Say what is to be exported; the file is then downloaded from `…/file` within an hour, and tells how far it is',
  needs: 'export',
  reads: true,
  query: empty,
  body: exportOrderSchema,
  answer: exportState,
});
export const exportFile = contract({
  method: 'GET',
  path: '/api/tables/{table}/exports/{export}/file',
  summary: 'The file of an export, written as it is downloaded, all of it as one moment sees it',
  needs: 'export',
  query: empty,
  body: nothing,
  answer: file,
});
export const findExport = contract({
  method: 'GET',
  path: '/api/tables/{table}/exports/{export}',
  summary: 'How far an export is',
  needs: 'export',
  query: empty,
  body: nothing,
  answer: exportState,
});
export const cancelExport = contract({
  method: 'DELETE',
  path: '/api/tables/{table}/exports/{export}',
  summary: 'Cancel an export: its download is broken off',
  needs: 'export',
  reads: true,
  query: empty,
  body: nothing,
  answer: exportState,
});
export const exportCabinet = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/export',
  summary: 'A cabinet file: definitions as JSON, data as CSV, in a zip',
  needs: 'build',
  query: empty,
  body: nothing,
  answer: file,
});
export const importCabinet = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/cabinet-file',
  summary: 'Fill an empty cabinet from a cabinet file, sent as application/octet-stream',
  needs: 'build',
  query: z.object({ file: z.string().min(1).max(300) }),
  body: z.unknown(),
  answer: z.object({ tables: z.number(), forms: z.number(), records: z.number(), notes: z.array(z.string()) }),
});
export const cabinetFileSchema = contract({
  method: 'GET',
  path: '/api/schemas/cabinet-file.json',
  summary: 'The JSON Schema of the definitions in a cabinet file',
  needs: 'nobody',
  query: empty,
  body: nothing,
  answer: file,
});
