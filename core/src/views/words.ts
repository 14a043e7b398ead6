import { type Condition, describeCondition, type Group } from '../conditions/index.ts';
import { namesOf } from '../forms/index.ts';
import type { FieldChange } from '../history/index.ts';
import { say } from '../languages/index.ts';
import { fieldAtPath, type TableId, type Tables, targetTable } from '../tables/index.ts';
import { AUDIT_COLUMNS, columnAt, isAuditColumn } from './columns.ts';
import { shownSchema } from './shown.ts';
import { shownWords } from './shownReads.ts';
import { SUMMARY_LABELS } from './summaries.ts';
import type { ViewDefinition, ViewSort } from './view.ts';

const columnWords = (tables: Tables, table: TableId, path: string): string =>
  columnAt(tables, table, path)?.label ?? path;

/** `Harbour is Gannet Quay`; `''` for a filter without conditions. `titles` are those of records, by `table:id`. */
export function filterWords(
  filter: Group,
  table: TableId,
  tables: Tables,
  titles: ReadonlyMap<string, string>,
): string {
  if (filter.of.length === 0) return '';
  const names = namesOf({ tables, table, choices: table, titles });
  return describeCondition(filter, {
    ...names,
    nameOf: (one) =>
      'path' in one && isAuditColumn(one.path) ? say(AUDIT_COLUMNS[one.path].label) : names.nameOf(one),
  });
}

/** `Arrival, newest first`. */
const sortWords = (tables: Tables, table: TableId, sort: readonly ViewSort[]): string =>
  sort
    .map(
      ({ path, direction }) => `${columnWords(tables, table, path)}${direction === 'down' ? say(', descending') : ''}`,
    )
    .join('; ');

/** What the lines of a ledger hold of a view. */
export interface CapturedView {
  readonly table_id?: TableId;
  readonly label?: string;
  readonly owner?: string;
  readonly definition?: Pick<ViewDefinition, 'columns' | 'filter' | 'sort'> & {
    readonly frozen?: number;
    readonly group?: string | null;
    readonly shown?: unknown;
  };
  readonly shared?: boolean;
  readonly roles?: readonly string[] | null;
  readonly opens?: boolean;
  readonly home?: boolean | null;
}

/** What a line changed in a view of a table, in words; nothing of it can be put back from there. */
export function describeView(
  before: CapturedView | null,
  after: CapturedView | null,
  table: TableId,
  tables: Tables,
  titles: ReadonlyMap<string, string>,
): FieldChange[] {
  const [was, is] = [partsOf(before, table, tables, titles), partsOf(after, table, tables, titles)];
  return [...new Set([...was.keys(), ...is.keys()])].flatMap((label) => {
    const [old, now] = [was.get(label) ?? '', is.get(label) ?? ''];
    return old === now ? [] : [{ field: label, label, before: old, after: now, was: null }];
  });
}

function partsOf(
  view: CapturedView | null,
  table: TableId,
  tables: Tables,
  titles: ReadonlyMap<string, string>,
): Map<string, string> {
  const parts = new Map<string, string>();
  if (view?.label !== undefined) parts.set(say('Label'), view.label);
  if (view?.shared !== undefined) parts.set(say('Shared'), view.shared ? say('with everybody') : '');
  if (view?.roles !== undefined) parts.set(say('Roles'), view.roles?.join(', ') ?? '');
  if (view?.opens !== undefined) parts.set(say('Table opens on it'), view.opens ? say('yes') : '');
  if (view?.home !== undefined) parts.set(say('On everybody’s Home'), view.home ? say('yes') : '');
  const { definition } = view ?? {};
  if (!definition) return parts;
  parts.set(
    say('Columns'),
    definition.columns
      .map(
        ({ path, summary, calculation }) =>
          `${calculation ? `${calculation.label} = ${calculation.source}` : columnWords(tables, table, path)}${summary ? ` (${say(SUMMARY_LABELS[summary])})` : ''}`,
      )
      .join(', '),
  );
  const widths = definition.columns.flatMap(({ path, width, calculation }) =>
    width === undefined
      ? []
      : [say('{label} {width} px', { label: calculation?.label ?? columnWords(tables, table, path), width })],
  );
  parts.set(say('Widths'), widths.join(', '));
  if (definition.frozen !== undefined && definition.frozen !== 1)
    parts.set(say('Columns that stay in sight'), String(definition.frozen));
  parts.set(say('Filter'), filterWords(definition.filter, table, tables, titles));
  if (definition.group) parts.set(say('Grouped by'), columnWords(tables, table, definition.group));
  const of = tables.get(table);
  // A line leaves out what is null: the schema puts it back.
  const shown = shownSchema.safeParse(definition.shown);
  if (shown.success && of) parts.set(say('Shown as'), shownWords(shown.data, of, tables));
  parts.set(say('Sorted by'), sortWords(tables, table, definition.sort));
  return parts;
}

/** The records that the filter of a captured view names as values. */
export const recordsInView = (
  view: CapturedView | null,
  table: TableId,
  tables: Tables,
): { table: TableId; id: number }[] => (view?.definition ? recordsInFilter(view.definition.filter, table, tables) : []);

/** The records that a filter names as values, whose titles its words need. */
export function recordsInFilter(filter: Condition, table: TableId, tables: Tables): { table: TableId; id: number }[] {
  if (filter.kind === 'group') return filter.of.flatMap((one) => recordsInFilter(one, table, tables));
  const target = filter.left.kind === 'column' ? targetTable(fieldAtPath(tables, table, filter.left.path)) : undefined;
  return target !== undefined && 'right' in filter && filter.right.kind === 'constant'
    ? [{ table: target, id: Number(filter.right.value) }]
    : [];
}
