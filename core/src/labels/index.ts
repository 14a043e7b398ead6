export { type DrawnLine, fitLines, LABEL_PADDING, LINE_HEIGHT, LINE_POINTS, type Measure, qrSide } from './fit.ts';
export {
  COMMON_SHEETS,
  type LabelLayout,
  type LabelLine,
  type LabelSheet,
  labelLayoutSchema,
  labelsOnSheet,
  layoutWords,
  MOST_LINES,
  placeOnSheet,
  sheetSchema,
  sheetWords,
} from './layout.ts';
export { proposeLayout } from './propose.ts';
export { labelPaths, labelProblems, labelTexts, RECORD_PLACE } from './text.ts';
