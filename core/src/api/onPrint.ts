import { z } from 'zod';
import { type DrawnLine, labelLayoutSchema } from '../labels/index.ts';
import { paperSchema } from '../print/index.ts';
import { labelSchema } from '../tables/index.ts';
import { contract } from './contract.ts';
import { labelsShape, selectedShape } from './onExports.ts';
import { momentInAddress } from './onPast.ts';
import { empty, nothing } from './shapes.ts';

const file = z.unknown();

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
