import { z } from 'zod';
import { pathSchema } from '../conditions/index.ts';
import { exportSettingsShape } from '../exports/index.ts';
import { type DrawnLine, labelLayoutSchema } from '../labels/index.ts';
import { orientationSchema, paperSchema } from '../print/index.ts';
import { labelSchema } from '../tables/index.ts';
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
  .max(8_000, `At most ${MOST_EXPORTED_SINGLY} records are exported one by one.`)
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
const named = z.array(z.int().min(1)).max(MOST_NAMED, `At most ${MOST_NAMED} records are named one by one.`).optional();

/** Labels of records: on which sheets, from which label of the first sheet on, counted from 1. */
const labelsShape = { layout: labelLayoutSchema, start: z.int().min(1).max(480).default(1) };

/** Records of a listing, as a person selected them. */
const selectedShape = { listing: listingSchema, ...which, only: named, except: named };

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

export const printRecord = contract({
  method: 'GET',
  path: '/api/tables/{table}/records/{id}/print',
  summary: 'A record with its lines and reference cards as a PDF, as its form lays it out, or as it stood at a moment',
  needs: 'see',
  query: z.object({
    form: z.string().max(60).optional(),
    paper: paperSchema.default('a4'),
    asOf: momentInAddress.optional(),
  }),
  body: nothing,
  answer: file,
});

const layoutShape = z.object({
  id: z.number(),
  label: z.string(),
  revision: z.number(),
  layout: labelLayoutSchema,
});
export type LabelLayoutView = z.infer<typeof layoutShape>;
const layoutBody = { label: labelSchema, layout: labelLayoutSchema };

export const listLabelLayouts = contract({
  method: 'GET',
  path: '/api/tables/{table}/label-layouts',
  summary: 'The label layouts that are kept for a table',
  needs: 'export',
  query: empty,
  body: nothing,
  answer: z.object({ layouts: z.array(layoutShape) }),
});
export const createLabelLayout = contract({
  method: 'POST',
  path: '/api/tables/{table}/label-layouts',
  summary: 'Keep a label layout for a table',
  needs: 'build',
  query: empty,
  body: z.strictObject(layoutBody),
  answer: layoutShape,
});
export const changeLabelLayout = contract({
  method: 'PUT',
  path: '/api/tables/{table}/label-layouts/{layout}',
  summary: 'Change a label layout',
  needs: 'build',
  query: empty,
  body: z.strictObject({ ...layoutBody, revision: z.int().min(1) }),
  answer: layoutShape,
});
export const deleteLabelLayout = contract({
  method: 'DELETE',
  path: '/api/tables/{table}/label-layouts/{layout}',
  summary: 'Delete a label layout',
  needs: 'build',
  query: empty,
  body: nothing,
  answer: empty,
});

const drawnLine: z.ZodType<DrawnLine> = z.object({
  text: z.string(),
  points: z.number(),
  bold: z.boolean(),
  cut: z.boolean(),
});
const labelPreview = z.object({
  /** The labels of the first sheet, each at its place, counted from 0. */
  labels: z.array(
    z.object({
      record: z.number(),
      place: z.number(),
      lines: z.array(drawnLine),
      /** Something of it does not fit. */
      misfits: z.boolean(),
    }),
  ),
  total: z.number(),
  sheets: z.number(),
  /** Of how many labels of the first sheet something does not fit. */
  misfits: z.number(),
});
export type LabelPreview = z.infer<typeof labelPreview>;

export const previewLabels = contract({
  method: 'POST',
  path: '/api/tables/{table}/label-preview',
  summary: 'The first sheet of labels of a listing as it would be printed',
  needs: 'export',
  reads: true,
  query: empty,
  body: z.strictObject({ ...selectedShape, ...labelsShape }),
  answer: labelPreview,
});

const calendarShape = {
  /** What the calendar is called. */
  label: labelSchema,
  listing: listingSchema,
  search: recordFilter.search,
  begins: pathSchema,
  ends: pathSchema.optional(),
};
export const calendarSchema = z.strictObject(calendarShape);
export type CalendarDefinition = z.infer<typeof calendarSchema>;
const calendarView = z.object({
  id: z.number(),
  label: z.string(),
  /** In words: `Arrival to Departure`. */
  dates: z.string(),
  madeAt: z.string(),
});
export type CalendarView = z.infer<typeof calendarView>;

export const listCalendars = contract({
  method: 'GET',
  path: '/api/tables/{table}/calendars',
  summary: 'One’s own private calendar addresses of a table that are not revoked',
  needs: 'export',
  query: empty,
  body: nothing,
  answer: z.object({ calendars: z.array(calendarView) }),
});
export const createCalendar = contract({
  method: 'POST',
  path: '/api/tables/{table}/calendars',
  summary: 'Make a private address from which a calendar program reads a list: it is told this once',
  needs: 'export',
  query: empty,
  body: calendarSchema,
  answer: calendarView.extend({ address: z.string() }),
});
export const revokeCalendar = contract({
  method: 'DELETE',
  path: '/api/tables/{table}/calendars/{calendar}',
  summary: 'Revoke a private calendar address',
  needs: 'export',
  query: empty,
  body: nothing,
  answer: empty,
});
export const readCalendar = contract({
  method: 'GET',
  path: '/api/calendars/{token}',
  summary: 'The events of a private calendar address (iCalendar, RFC 5545), as its account may see them now',
  needs: 'nobody',
  query: empty,
  body: nothing,
  answer: file,
});
