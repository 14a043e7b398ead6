import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { PAPERS, type Paper, paperSchema } from '../print/index.ts';

/** More lines than these do not stand on any label. */
export const MOST_LINES = 10;
/** Shorter and narrower labels hold no text. */
const [LEAST_HEIGHT, LEAST_WIDTH] = [8, 15];
/** What is not on the paper any more by a rounding of measures is still on it, in millimetres. */
const TOLERANCE = 0.5;

const millimetres = z.number().min(0).max(300).multipleOf(0.01, sayLater('Write at most two decimal places.'));
const LINE_SIZES = ['small', 'normal', 'large'] as const;

/** A line of a label: words, with fields in braces (`{name}`, `{owner.e_mail}`, `{record}` for what the record is called). */
const labelLineSchema = z.strictObject({
  text: z.string().max(200),
  size: z.enum(LINE_SIZES).default('normal'),
  bold: z.boolean().default(false),
});
export type LabelLine = z.infer<typeof labelLineSchema>;

/** The measures of a sheet of labels in millimetres, as they are printed on its package. */
export const sheetSchema = z
  .strictObject({
    paper: paperSchema,
    columns: z.int().min(1).max(12),
    rows: z.int().min(1).max(40),
    width: millimetres.min(LEAST_WIDTH, {
      error: () => say('A label is at least {least} mm wide.', { least: LEAST_WIDTH }),
    }),
    height: millimetres.min(LEAST_HEIGHT, {
      error: () => say('A label is at least {least} mm high.', { least: LEAST_HEIGHT }),
    }),
    /** Between labels that stand beside and below each other. */
    gapX: millimetres,
    gapY: millimetres,
    /** From the edge of the paper to the first label. */
    top: millimetres,
    left: millimetres,
  })
  .superRefine((sheet, context) => {
    const { width, height } = PAPERS[sheet.paper];
    const across = sheet.left + sheet.columns * sheet.width + (sheet.columns - 1) * sheet.gapX;
    const down = sheet.top + sheet.rows * sheet.height + (sheet.rows - 1) * sheet.gapY;
    if (across > width + TOLERANCE)
      context.addIssue({
        code: 'custom',
        path: ['columns'],
        message: say(
          'These labels are {across} wide together, and the paper is {width}. Check the columns, the width and the left margin.',
          { across: mm(across), width: mm(width) },
        ),
      });
    if (down > height + TOLERANCE)
      context.addIssue({
        code: 'custom',
        path: ['rows'],
        message: say(
          'These labels are {down} high together, and the paper is {height}. Check the rows, the height and the top margin.',
          { down: mm(down), height: mm(height) },
        ),
      });
  });
export type LabelSheet = z.infer<typeof sheetSchema>;

const mm = (length: number): string => say('{value} mm', { value: Number(length.toFixed(2)) });

/** What is printed on labels, and on which sheets. */
export const labelLayoutSchema = z.strictObject({
  sheet: sheetSchema,
  lines: z
    .array(labelLineSchema)
    .min(1, sayLater('Write at least one line.'))
    .max(MOST_LINES, { error: () => say('At most {count} lines stand on a label.', { count: MOST_LINES }) })
    .refine((lines) => lines.some((line) => line.text.trim() !== ''), sayLater('Write at least one line.')),
  /** With a code that opens the record when it is photographed. */
  qr: z.boolean().default(false),
});
export type LabelLayout = z.infer<typeof labelLayoutSchema>;

/** How many labels are on a sheet. */
export const labelsOnSheet = ({ columns, rows }: LabelSheet): number => columns * rows;

const sheet = (
  paper: Paper,
  [columns, rows]: readonly [number, number],
  [width, height]: readonly [number, number],
  [left, top]: readonly [number, number],
  gapX = 0,
): LabelSheet => ({ paper, columns, rows, width, height, gapX, gapY: 0, left, top });

/** Common sheets by their sizes, to begin with. */
export const COMMON_SHEETS: readonly LabelSheet[] = [
  sheet('a4', [3, 8], [70, 37], [0, 0.5]),
  sheet('a4', [3, 7], [63.5, 38.1], [7.25, 15.15], 2.5),
  sheet('a4', [2, 4], [99.1, 67.7], [4.65, 13.1], 2.5),
  sheet('letter', [3, 10], [66.68, 25.4], [4.76, 12.7], 3.17),
  sheet('letter', [2, 5], [101.6, 50.8], [3.97, 12.7], 4.77),
];

/** `70 × 37 mm, 24 on A4`. */
export const sheetWords = (one: LabelSheet): string =>
  say('{value} × {other} mm, {one} on {label}', {
    value: Number(one.width.toFixed(1)),
    other: Number(one.height.toFixed(1)),
    one: labelsOnSheet(one),
    label: PAPERS[one.paper].label,
  });

/** Where the label at a place of its sheet begins, in millimetres from the corner of the paper; places count from 0, row by row. */
export function placeOnSheet(one: LabelSheet, place: number): { readonly x: number; readonly y: number } {
  const [column, row] = [place % one.columns, Math.floor(place / one.columns)];
  return { x: one.left + column * (one.width + one.gapX), y: one.top + row * (one.height + one.gapY) };
}

/** A layout in words: `70 × 37 mm, 24 on A4: {name} / {address}, with a code`. */
export const layoutWords = ({ sheet: of, lines, qr }: LabelLayout): string =>
  `${sheetWords(of)}: ${lines.map((line) => line.text).join(' / ')}${qr ? say(', with a code') : ''}`;
