import { operandsOf, pathsOf, questionsOf } from '../conditions/index.ts';
import type { Problem } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import { isStamp } from '../queries/index.ts';
import { fieldAtPath, type TableDefinition, type Tables } from '../tables/index.ts';
import { isCalculated, prepareCalculation } from './calculated.ts';
import { columnAt, columnOf, isGroupable, isSortable } from './columns.ts';
import { shownProblems } from './shownReads.ts';
import { SUMMARY_LABELS, summariesOf } from './summaries.ts';
import type { Listing, ViewColumn } from './view.ts';

/**
 * What is wrong with a listing for somebody who sees these tables, each at its place: a column, a sort or a condition
 * that reads what is not there, or that their role does not see.
 */
export function listingProblems(
  { columns, filter, sort, group, shown }: Listing,
  table: TableDefinition,
  tables: Tables,
): Problem[] {
  const gone = (path: string): string =>
    say('{path} is not a field of {label} any more. Remove it.', { path, label: table.label });
  const problems: Problem[] = [];
  for (const [at, one] of columns.entries()) {
    const { path, summary } = one;
    const wrong = calculationMisfit(one, table, tables);
    if (wrong !== undefined) problems.push({ path: `columns.${at}`, rule: 'calculation', message: wrong });
    const column = columnOf(tables, table.id, one);
    if (!column) problems.push({ path: `columns.${at}`, rule: 'field', message: gone(path) });
    else if (summary !== undefined && !summariesOf(column).includes(summary))
      problems.push({
        path: `columns.${at}.summary`,
        rule: 'summary',
        message: say('{label} has no {summary}. Choose another summary, or none.', {
          label: column.label,
          summary: say(SUMMARY_LABELS[summary]),
        }),
      });
  }
  for (const [at, { path }] of sort.entries()) {
    const column = columnAt(tables, table.id, path);
    if (!column) problems.push({ path: `sort.${at}`, rule: 'field', message: gone(path) });
    else if (!isSortable(column))
      problems.push({
        path: `sort.${at}`,
        rule: 'sort',
        message: say('A list is not sorted by {label}: it holds several values.', { label: column.label }),
      });
  }
  const grouping = group === null ? undefined : columnAt(tables, table.id, group);
  if (group !== null && !grouping) problems.push({ path: 'group', rule: 'field', message: gone(group) });
  else if (grouping && !isGroupable(grouping))
    problems.push({
      path: 'group',
      rule: 'group',
      message: say('Records are not grouped by {label}. Choose a field that holds one value.', {
        label: grouping.label,
      }),
    });
  const misread = filterMisfit(filter, table, tables);
  if (misread !== undefined) problems.push({ path: 'filter', rule: 'condition', message: misread });
  return [...problems, ...shownProblems(shown, table, tables)];
}

/** Why a column cannot be calculated, in words; undefined where it can, and for any other column. */
function calculationMisfit({ path, calculation }: ViewColumn, table: TableDefinition, tables: Tables) {
  if (!calculation)
    return isCalculated(path) ? say('The column {path} has no formula. Remove it.', { path }) : undefined;
  if (!isCalculated(path)) return say('{path} is a field: it is not calculated here.', { path });
  const prepared = prepareCalculation(path, calculation, table, tables);
  return 'wrong' in prepared ? prepared.wrong : undefined;
}

/** Why a filter cannot be held against the records of a table, in words; undefined when it can. */
export function filterMisfit(filter: Listing['filter'], table: TableDefinition, tables: Tables): string | undefined {
  const gone = pathsOf(filter, 'column').find((path) => !isStamp(path) && !fieldAtPath(tables, table.id, path));
  if (gone !== undefined)
    return say('{gone} is not a field of {label} any more. Change or remove its condition.', {
      gone,
      label: table.label,
    });
  if (questionsOf(filter).some(({ path }) => path === ''))
    return say('What is asked each time is compared with a field. Change or remove its condition.');
  return operandsOf(filter).some((one) => one.kind === 'form' || one.kind === 'enclosing')
    ? say('A filter of {label} compares its own fields, and no form.', { label: table.label })
    : undefined;
}

/**
 * A listing as somebody has it who sees these tables: without columns and sorts that are not there for them. Undefined
 * where its filter reads what they do not see, which what it finds would tell them, and where a chart, a calendar or lanes do.
 */
export function listingSeenBy(listing: Listing, table: TableDefinition, tables: Tables): Listing | undefined {
  if (filterMisfit(listing.filter, table, tables) !== undefined) return undefined;
  if (shownProblems(listing.shown, table, tables).length > 0) return undefined;
  const there = ({ path }: { readonly path: string }): boolean => columnAt(tables, table.id, path) !== undefined;
  const columns = listing.columns.filter((one) =>
    one.calculation ? calculationMisfit(one, table, tables) === undefined : there(one),
  );
  const group = listing.group !== null && there({ path: listing.group }) ? listing.group : null;
  return columns.length === 0 ? undefined : { ...listing, columns, sort: listing.sort.filter(there), group };
}
