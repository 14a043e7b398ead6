import {
  type BarChart,
  type Chart,
  hasCategories,
  isNumber,
  isOfTime,
  MEASURES,
  type Measure,
  TIME_STEPS,
} from '@fiche/core/charts';
import { isOfWords, linksOne } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { FieldDefinition, TableDefinition } from '@fiche/core/tables';
import { columnsFor, type KnownColumn } from '@fiche/core/views';
import { useId } from 'react';
import { useOffice } from '../client/index.ts';
import { PickField, type PickOption, SelectField, settingsCss } from '../parts/index.ts';

interface ChartSettingsProps {
  readonly table: TableDefinition;
  readonly chart: Chart;
  onChange(chart: Chart): void;
}

const KINDS: readonly { readonly value: Chart['kind']; readonly label: string }[] = [
  { value: 'time', label: say('Over time') },
  { value: 'categories', label: say('By choice or link') },
  { value: 'points', label: say('Two numbers against each other') },
];

const STEP_LABELS = { day: say('Day'), week: say('Week'), month: say('Month'), year: say('Year') } as const;

/** What a chart shows: its kind, its fields, what it adds up. The picture beside it follows at once. */
export function ChartSettings({ table, chart, onChange }: ChartSettingsProps) {
  const { tables } = useOffice();
  const id = useId();
  const columns = columnsFor(tables, table).filter(({ path }) => !path.includes(':'));
  const optionsOf = (fits: (field: FieldDefinition) => boolean): PickOption[] =>
    columns.flatMap(({ path, label, field }: KnownColumn) => (field && fits(field) ? [{ value: path, label }] : []));
  const times = optionsOf(isOfTime);
  const categories = optionsOf(hasCategories);
  const numbers = optionsOf(isNumber);
  const kinds = KINDS.filter(({ value }) => ({ time: times, categories, points: numbers })[value].length > 0);
  const changeKind = (kind: string): void => {
    const [first = { value: '' }, second = first] = { time: times, categories, points: numbers }[kind as Chart['kind']];
    const bars =
      chart.kind === 'points'
        ? { measure: { of: 'count' as const }, stacked: null }
        : { measure: chart.measure, stacked: chart.stacked };
    // Few values make better bars than many: a link or a choice before a text.
    const fitting = columns.find(({ field }) => field && (linksOne(field) || isOfWords(field)))?.path ?? first.value;
    if (kind === 'time') onChange({ kind, path: first.value, step: 'week', ...bars });
    else if (kind === 'categories') onChange({ kind, path: fitting, order: 'size', ...bars });
    else if (kind === 'points') onChange({ kind, x: first.value, y: second.value });
  };
  return (
    <div className={settingsCss.form}>
      <SelectField label={say('What the chart shows')} value={chart.kind} options={kinds} onChange={changeKind} />
      {chart.kind === 'time' && (
        <>
          <PickField
            id={`${id}path`}
            label={say('Date')}
            options={times}
            value={chart.path}
            onPick={(path) => onChange({ ...chart, path })}
          />
          <SelectField
            label={say('One bar for each')}
            value={chart.step}
            options={TIME_STEPS.map((value) => ({ value, label: STEP_LABELS[value] }))}
            onChange={(value) => onChange({ ...chart, step: TIME_STEPS.find((one) => one === value) ?? 'week' })}
          />
        </>
      )}
      {chart.kind === 'categories' && (
        <>
          <PickField
            id={`${id}path`}
            label={say('One bar for each')}
            options={categories}
            value={chart.path}
            onPick={(path) => onChange({ ...chart, path })}
          />
          <SelectField
            label={say('Order')}
            value={chart.order}
            options={[
              { value: 'size', label: say('Longest bar first') },
              { value: 'name', label: say('By name') },
            ]}
            onChange={(value) => onChange({ ...chart, order: value === 'name' ? 'name' : 'size' })}
          />
        </>
      )}
      {chart.kind !== 'points' && <MeasureSettings id={id} {...{ chart, numbers, categories, onChange }} />}
      {chart.kind === 'points' && (
        <>
          <PickField
            id={`${id}x`}
            label={say('Horizontal axis')}
            options={numbers}
            value={chart.x}
            onPick={(x) => onChange({ ...chart, x })}
          />
          <PickField
            id={`${id}y`}
            label={say('Vertical axis')}
            options={numbers}
            value={chart.y}
            onPick={(y) => onChange({ ...chart, y })}
          />
        </>
      )}
    </div>
  );
}

const MEASURE_LABELS: Readonly<Record<Measure['of'], string>> = {
  count: say('Number of records'),
  sum: say('Sum of a number'),
  average: say('Average of a number'),
  least: say('Least of a number'),
  most: say('Most of a number'),
};

/** What the bars measure, and what divides them. */
function MeasureSettings({
  id,
  chart,
  numbers,
  categories,
  onChange,
}: {
  readonly id: string;
  readonly chart: BarChart;
  readonly numbers: readonly PickOption[];
  readonly categories: readonly PickOption[];
  onChange(chart: Chart): void;
}) {
  const { measure } = chart;
  const divides = measure.of === 'count' || measure.of === 'sum';
  const measureBy = (value: string): void => {
    const of = MEASURES.find((one) => one === value) ?? 'count';
    const path = measure.of === 'count' ? (numbers[0]?.value ?? '') : measure.path;
    const next: Measure = of === 'count' ? { of } : { of, path };
    onChange({ ...chart, measure: next, stacked: of === 'count' || of === 'sum' ? chart.stacked : null });
  };
  return (
    <>
      <SelectField
        label={say('Length of the bars')}
        value={measure.of}
        options={MEASURES.filter((of) => of === 'count' || numbers.length > 0).map((value) => ({
          value,
          label: MEASURE_LABELS[value],
        }))}
        onChange={measureBy}
      />
      {measure.of !== 'count' && (
        <PickField
          id={`${id}measure`}
          label={say('Number')}
          options={numbers}
          value={measure.path}
          onPick={(path) => onChange({ ...chart, measure: { ...measure, path } })}
        />
      )}
      {divides && (
        <PickField
          id={`${id}stacked`}
          label={say('Divide the bars by')}
          options={[{ value: '', label: say('Nothing') }, ...categories.filter(({ value }) => value !== chart.path)]}
          value={chart.stacked ?? ''}
          onPick={(path) => onChange({ ...chart, stacked: path === '' ? null : path })}
        />
      )}
    </>
  );
}
