import { operandsOf, pathsOf, questionsOf } from '../conditions/index.ts';
import type { Problem } from '../fields/index.ts';
import { isStamp } from '../queries/index.ts';
import { fieldAtPath, type TableDefinition, type Tables } from '../tables/index.ts';
import { isCalculated, prepareCalculation } from './calculated.ts';
import { columnAt, columnOf, isGroupable, isSortable } from './columns.ts';
import { SUMMARY_LABELS, summariesOf } from './summaries.ts';
import type { Listing, ViewColumn } from './view.ts';

/**
 * What is wrong with a listing for somebody who sees these tables, each at its place: a column, a sort or a condition
 * that reads what is not there, or that their role does not see.
 */
export function listingProblems(
  { columns, filter, sort, group }: Listing,
  table: TableDefinition,
  tables: Tables,
): Problem[] {
  const gone = (path: string): string => `${path} is not a field of ${table.label} any more. Remove it.`;
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
        message: `${column.label} has no ${SUMMARY_LABELS[summary]}. Choose another summary, or none.`,
      });
  }
  for (const [at, { path }] of sort.entries()) {
    const column = columnAt(tables, table.id, path);
    if (!column) problems.push({ path: `sort.${at}`, rule: 'field', message: gone(path) });
    else if (!isSortable(column))
      problems.push({
        path: `sort.${at}`,
        rule: 'sort',
        message: `A list is not sorted by ${column.label}: it holds several values.`,
      });
  }
  const grouping = group === null ? undefined : columnAt(tables, table.id, group);
  if (group !== null && !grouping) problems.push({ path: 'group', rule: 'field', message: gone(group) });
  else if (grouping && !isGroupable(grouping))
    problems.push({
      path: 'group',
      rule: 'group',
      message: `Records are not grouped by ${grouping.label}. Choose a field that holds one value.`,
    });
  const misread = filterMisfit(filter, table, tables);
  if (misread !== undefined) problems.push({ path: 'filter', rule: 'condition', message: misread });
  return problems;
}

/** Why a column cannot be calculated, in words; undefined where it can, and for any other column. */
function calculationMisfit({ path, calculation }: ViewColumn, table: TableDefinition, tables: Tables) {
  if (!calculation) return isCalculated(path) ? `The column ${path} has no formula. Remove it.` : undefined;
  if (!isCalculated(path)) return `${path} is a field: it is not calculated here.`;
  const prepared = prepareCalculation(path, calculation, table, tables);
  return 'wrong' in prepared ? prepared.wrong : undefined;
}

/** Why a filter cannot be held against the records of a table, in words; undefined when it can. */
export function filterMisfit(filter: Listing['filter'], table: TableDefinition, tables: Tables): string | undefined {
  const gone = pathsOf(filter, 'column').find((path) => !isStamp(path) && !fieldAtPath(tables, table.id, path));
  if (gone !== undefined) return `${gone} is not a field of ${table.label} any more. Change or remove its condition.`;
  if (questionsOf(filter).some(({ path }) => path === ''))
    return 'What is asked each time is compared with a field. Change or remove its condition.';
  return operandsOf(filter).some((one) => one.kind === 'form' || one.kind === 'enclosing')
    ? `A filter of ${table.label} compares its own fields, and no form.`
    : undefined;
}

/**
 * A listing as somebody has it who sees these tables: without columns and sorts that are not there for them. Undefined
 * where its filter reads what they do not see: what it finds would tell them.
 */
export function listingSeenBy(listing: Listing, table: TableDefinition, tables: Tables): Listing | undefined {
  if (filterMisfit(listing.filter, table, tables) !== undefined) return undefined;
  const there = ({ path }: { readonly path: string }): boolean => columnAt(tables, table.id, path) !== undefined;
  const columns = listing.columns.filter((one) =>
    one.calculation ? calculationMisfit(one, table, tables) === undefined : there(one),
  );
  const group = listing.group !== null && there({ path: listing.group }) ? listing.group : null;
  return columns.length === 0 ? undefined : { ...listing, columns, sort: listing.sort.filter(there), group };
}
