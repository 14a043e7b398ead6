import { say, sayCount, sayLater } from '../languages/index.ts';
import { formatCount, formatNumber } from '../office/index.ts';
import { type FieldDefinition, typeOf } from '../tables/index.ts';
import type { Chart, Measure, TimeStep } from './chart.ts';
import type { FieldAt } from './check.ts';
import type { FigurePart } from './figures.ts';

const STEP_WORDS: Readonly<Record<TimeStep, string>> = {
  day: sayLater('a day'),
  week: sayLater('a week'),
  month: sayLater('a month'),
  year: sayLater('a year'),
};

const MEASURE_WORDS: Readonly<Record<Exclude<Measure['of'], 'count'>, string>> = {
  sum: sayLater('Sum of'),
  average: sayLater('Average of'),
  least: sayLater('Least'),
  most: sayLater('Most'),
};

/** What the bars of a chart measure: `Number of Stays`, `Sum of Dues`. */
export const measureWords = (measure: Measure, tableLabel: string, fieldAt: FieldAt): string =>
  measure.of === 'count'
    ? say('Number of {tableLabel}', { tableLabel })
    : `${say(MEASURE_WORDS[measure.of])} ${fieldAt(measure.path)?.label ?? measure.path}`;

/** A chart in words: `Number of Stays a week, by Arrival, divided by Harbour`. */
export function chartWords(chart: Chart, tableLabel: string, fieldAt: FieldAt): string {
  const labelOf = (path: string): string => fieldAt(path)?.label ?? path;
  if (chart.kind === 'points') return say('{y} against {x}', { y: labelOf(chart.y), x: labelOf(chart.x) });
  const measured = measureWords(chart.measure, tableLabel, fieldAt);
  const by = chart.kind === 'time' ? ` ${say('{step}, by', { step: say(STEP_WORDS[chart.step]) })} ` : ` ${say('by')} `;
  const divided = chart.stacked === null ? '' : say(', divided by {stacked}', { stacked: labelOf(chart.stacked) });
  return `${measured}${by}${labelOf(chart.path)}${divided}`;
}

/** A value that a chart groups by, as people read it. */
export function groupWords({ value, title, others }: FigurePart, path: string, fieldAt: FieldAt): string {
  if (others !== undefined) return `${formatCount(others)} ${sayCount(others, 'other', 'others')}`;
  if (value === null) return say('Blank');
  const { field, label } = fieldAt(path) ?? {};
  // Yes and no say nothing by themselves.
  if (typeof value === 'boolean' && field) return `${label}: ${typeOf(field).format(value, field.settings)}`;
  return title ?? (field ? typeOf(field).format(value, field.settings) : String(value));
}

/** A number at an axis, with no more decimal places than it needs: `12`, `7.5`; between whole numbers nothing stands there. */
export function axisWords(value: number, field: FieldDefinition | undefined): string {
  const whole = field !== undefined && typeOf(field).column(field.settings) === 'bigint';
  if (whole) return Number.isInteger(value) ? typeOf(field).format(value, field.settings) : '';
  const places = [0, 1, 2].find((one) => Math.abs(value - Number(value.toFixed(one))) < 1e-9) ?? 2;
  return formatNumber(value, places);
}

/** At most so many decimal places of an average. */
const AVERAGE_PLACES = 2;

/** What a measure gave, as people read it: like the field’s values, a count as a count. */
export function amountWords(amount: number | null, measure: Measure, fieldAt: FieldAt): string {
  if (amount === null) return '–';
  if (measure.of === 'count') return formatCount(amount);
  const field = fieldAt(measure.path)?.field;
  if (!field) return formatNumber(amount, AVERAGE_PLACES);
  if (measure.of === 'average' && typeOf(field).column(field.settings) === 'bigint')
    return formatNumber(amount, AVERAGE_PLACES);
  return typeOf(field).format(amount, field.settings);
}
