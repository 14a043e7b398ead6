import { periodProblems } from '../calendar/index.ts';
import { chartProblems, chartReads, chartWords, type FieldAt } from '../charts/index.ts';
import { pathsOf } from '../conditions/index.ts';
import type { Problem } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import { fieldAtPath, linkedTable, type TableDefinition, type Tables } from '../tables/index.ts';
import { columnAt } from './columns.ts';
import { periodSettings, type Shown } from './shown.ts';

const fieldsOf =
  (tables: Tables, table: TableDefinition): FieldAt =>
  (path) =>
    columnAt(tables, table.id, path);

/** What is wrong with how a listing is shown for somebody who sees these tables, each at its place. */
export function shownProblems(shown: Shown, table: TableDefinition, tables: Tables): Problem[] {
  const at = (problems: readonly Problem[]): Problem[] =>
    problems.map((one) => ({ ...one, path: `shown.${one.path}` }));
  if (shown.as === 'chart') return at(chartProblems(shown.chart, table.label, fieldsOf(tables, table)));
  const settings = periodSettings(shown);
  if (!settings) return [];
  const problems = at(periodProblems(settings, table.label, fieldsOf(tables, table)));
  if (shown.as !== 'lanes' || problems.length > 0) return problems;
  const lanes = tables.get(linkedTable(fieldAtPath(tables, table.id, shown.lanes.lane)) ?? '');
  const gone = [...pathsOf(shown.lanes.where, 'column'), ...shown.lanes.facts].find(
    (path) => !lanes || !columnAt(tables, lanes.id, path),
  );
  return gone === undefined
    ? []
    : [
        {
          path: 'shown.where',
          rule: 'field',
          message: say('{gone} is not a field of {label} any more. Choose again which records have a lane.', {
            gone,
            label: lanes?.label ?? say('the table of the lanes'),
          }),
        },
      ];
}

/** A path that a listing reads because of how it is shown, with what for; `lanes` are paths of the table of the lanes. */
export interface ShownRead {
  readonly path: string;
  readonly words: string;
  readonly of: 'table' | 'lanes';
}

/** Every path that a listing reads because of how it is shown. */
export function shownReads(shown: Shown): ShownRead[] {
  if (shown.as === 'chart') return chartReads(shown.chart).map(({ path, words }) => ({ path, words, of: 'table' }));
  const settings = periodSettings(shown);
  if (!settings) return [];
  const own = (path: string | null | undefined, words: string): ShownRead[] =>
    path == null ? [] : [{ path, words, of: 'table' }];
  const ofLanes = (path: string, words: string): ShownRead => ({ path, words, of: 'lanes' });
  return [
    ...own(settings.start, say('when its periods begin')),
    ...own(settings.end, say('when its periods end')),
    ...own(settings.label, say('what is written on its periods')),
    ...own(settings.lane, say('what its lanes are')),
    ...(shown.as === 'lanes'
      ? [
          ...shown.lanes.facts.map((path) => ofLanes(path, say('what stands beside its lanes'))),
          ...pathsOf(shown.lanes.where, 'column').map((path) => ofLanes(path, say('which lanes it has'))),
        ]
      : []),
  ];
}

/** How a listing is shown, in words; blank for a list of rows. */
export function shownWords(shown: Shown, table: TableDefinition, tables: Tables): string {
  const labelOf = (path: string): string => columnAt(tables, table.id, path)?.label ?? path;
  if (shown.as === 'chart')
    return say('Chart: {chart}', { chart: chartWords(shown.chart, table.label, fieldsOf(tables, table)) });
  const settings = periodSettings(shown);
  if (!settings) return '';
  const period =
    settings.end === null
      ? labelOf(settings.start)
      : say('{start} to {end}', { start: labelOf(settings.start), end: labelOf(settings.end) });
  return settings.lane === undefined
    ? say('Calendar: {period}', { period })
    : say('Lanes of {lane}: {period}', { lane: labelOf(settings.lane), period });
}
