import {
  amountWords,
  axisWords,
  type Chart,
  type Drawing,
  drawCategoryBars,
  drawPoints,
  drawTimeBars,
  type FieldAt,
  type Figures,
  groupWords,
  type Mark,
  measureWords,
  recordsBehind,
  recordsInCell,
  stepWords,
} from '@fiche/core/charts';
import type { Group } from '@fiche/core/conditions';
import { say, sayCount } from '@fiche/core/languages';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import { columnAt } from '@fiche/core/views';

/** A chart with its figures, as words and drawings are made of it. */
export interface DrawnChart {
  readonly chart: Chart;
  readonly figures: Figures;
  readonly table: TableDefinition;
  readonly fieldAt: FieldAt;
}

export const fieldsAt =
  (tables: Tables, table: TableDefinition): FieldAt =>
  (path) =>
    columnAt(tables, table.id, path);

/** `1 record`, `1,200 records`. */
export const recordsWords = (count: number): string => sayCount(count, '{count} record', '{count} records');

/** What a bar stands for, in words. */
export function barWords({ chart, figures, fieldAt }: DrawnChart, at: number): string {
  if (figures.kind !== 'bars' || chart.kind === 'points') return '';
  const bar = figures.bars[at];
  if (!bar) return '';
  return figures.step !== null && typeof bar.value === 'string'
    ? stepWords(bar.value, figures.step)
    : groupWords(bar, chart.path, fieldAt);
}

/** What a part of a bar stands for, in words. */
export function partWords({ chart, figures, fieldAt }: DrawnChart, at: number): string {
  if (figures.kind !== 'bars' || chart.kind === 'points' || chart.stacked === null) return '';
  const part = figures.parts[at];
  return part ? groupWords(part, chart.stacked, fieldAt) : '';
}

/** The least and the most of a number, in words: `7.6 to 7.8`, or one number. */
export function spanWords([from, to]: readonly [number, number], path: string, fieldAt: FieldAt): string {
  const field = fieldAt(path)?.field;
  return from === to
    ? axisWords(from, field)
    : say('{from} to {to}', { from: axisWords(from, field), to: axisWords(to, field) });
}

/** A chart as it is drawn in a width; the height follows from its bars where they are categories. */
export function drawChart(drawn: DrawnChart, width: number, height: number): Drawing {
  const { chart, figures, fieldAt } = drawn;
  if (figures.kind === 'points' || chart.kind === 'points') {
    if (figures.kind !== 'points' || chart.kind !== 'points')
      return { width, height, marks: [], lines: [], texts: [], legend: [] };
    const label = (path: string): string => fieldAt(path)?.label ?? path;
    return drawPoints(
      figures,
      { width, height },
      {
        x: (value) => axisWords(value, fieldAt(chart.x)?.field),
        y: (value) => axisWords(value, fieldAt(chart.y)?.field),
        xLabel: label(chart.x),
        yLabel: label(chart.y),
      },
    );
  }
  const { measure } = chart;
  const words = {
    // An axis of counts has no marks between whole numbers.
    amount: (value: number) =>
      measure.of === 'count' && !Number.isInteger(value) ? '' : amountWords(value, measure, fieldAt),
    bar: (at: number) => barWords(drawn, at),
    part: (at: number) => partWords(drawn, at),
  };
  return chart.kind === 'time'
    ? drawTimeBars(figures, { width, height }, words)
    : drawCategoryBars(figures, width, words);
}

/** What a mark of a chart says, in words: `Week of 17 Aug 2026: 32 records`. */
export function markWords(drawn: DrawnChart, mark: Mark): string {
  const { chart, figures, table, fieldAt } = drawn;
  if (mark.shape === 'point' && figures.kind === 'points' && chart.kind === 'points') {
    const cell = figures.cells[mark.cell];
    if (!cell) return '';
    const label = (path: string): string => fieldAt(path)?.label ?? path;
    const between = (span: readonly [number, number], path: string): string => spanWords(span, path, fieldAt);
    return `${label(chart.x)} ${between(cell.xs, chart.x)}, ${label(chart.y)} ${between(cell.ys, chart.y)}: ${recordsWords(cell.count)}`;
  }
  if (mark.shape !== 'bar' || figures.kind !== 'bars' || chart.kind === 'points') return '';
  const bar = figures.bars[mark.bar];
  if (!bar) return '';
  const amount = mark.part === null ? bar.amount : (bar.parts?.[mark.part] ?? null);
  const of = mark.part === null ? '' : `, ${partWords(drawn, mark.part)}`;
  const said =
    chart.measure.of === 'count'
      ? recordsWords(amount ?? 0)
      : `${measureWords(chart.measure, table.label, fieldAt)} ${amountWords(amount, chart.measure, fieldAt)}`;
  return `${barWords(drawn, mark.bar)}${of}: ${said}`;
}

/** The condition that finds the records behind a mark; undefined for what sums up many values. */
export function behindMark({ chart, figures, fieldAt }: DrawnChart, mark: Mark): Group | undefined {
  if (mark.shape === 'point') {
    const cell = figures.kind === 'points' ? figures.cells[mark.cell] : undefined;
    return cell && chart.kind === 'points' ? recordsInCell(chart, cell) : undefined;
  }
  const bar = figures.kind === 'bars' ? figures.bars[mark.bar] : undefined;
  if (!bar || figures.kind !== 'bars' || chart.kind === 'points') return undefined;
  const part = mark.part === null ? undefined : figures.parts[mark.part];
  return recordsBehind(chart, figures.step, bar, part, fieldAt);
}
