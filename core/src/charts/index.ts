export { recordsBehind, recordsInCell } from './behind.ts';
export { drawCategoryBars } from './categoryBars.ts';
export {
  type BarChart,
  type Chart,
  chartReads,
  chartSchema,
  MEASURES,
  type Measure,
  type MeasureKind,
  MOST_CATEGORIES,
  MOST_PARTS,
  MOST_STEPS,
  POINT_CELLS,
  TIME_STEPS,
  type TimeStep,
} from './chart.ts';
export { chartProblems, type FieldAt, hasCategories, isNumber, isOfTime } from './check.ts';
export { type Drawing, type DrawingSize, type Mark, TEXT_PX } from './drawing.ts';
export {
  type BarFigures,
  type FigureBar,
  type FigureCell,
  type FigurePart,
  type Figures,
  figuresSchema,
  type PointFigures,
} from './figures.ts';
export { drawPoints, type PointWords } from './points.ts';
export { extentOf, type Stacked, stackBars } from './stacks.ts';
export { longerStep, nextStep, STEP_DAYS, STEPS, type Step, stepWords } from './steps.ts';
export { type BarWords, drawTimeBars } from './timeBars.ts';
export { amountWords, axisWords, chartWords, groupWords, measureWords } from './words.ts';
