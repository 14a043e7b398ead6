import type { ListedGroup } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { Orientation, Paper } from '@fiche/core/print';
import { type TableDefinition, type Tables, typeOf } from '@fiche/core/tables';
import {
  columnAt,
  columnOf,
  groupTitle,
  type KnownColumn,
  type Listing,
  listedText,
  summariesUnder,
} from '@fiche/core/views';
import type { Database } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import { listRows, type RowsQuery } from '../views/index.ts';
import { headOf, innerWidth, type PrintedDocument, printJob } from './pageStyle.ts';
import { mostColumns, type RuledRow, ruledTable } from './ruledTable.ts';

/** Records that are printed at once: more are no list that somebody reads. */
export const MOST_PRINTED = 5_000;
const STEP = 1_000;
/** More columns than these are printed in landscape, unless somebody wants it otherwise. */
const MOST_PORTRAIT = 6;

export interface PrintedList {
  readonly title: string;
  /** What stands under the title, such as its filter in words. */
  readonly said: readonly string[];
  readonly paper: Paper;
  readonly orientation: Orientation;
}

/** Records of a list that are read to be printed. */
export interface ListReading {
  readonly database: Database;
  readonly tables: Tables;
  readonly table: TableDefinition;
  readonly query: Omit<RowsQuery, 'after' | 'at' | 'limit'>;
  readonly reader: Parameters<typeof listRows>[4];
}

const readPage = ({ database, tables, table, query, reader }: ListReading, after: string | undefined, limit: number) =>
  listRows(database, tables, table, { ...query, after, limit }, reader);

/** How a list lies on its paper, with the columns that stand beside each other. Throws 422 where they do not fit. */
function onPaper(
  { tables, table, query }: ListReading,
  { paper, orientation }: Pick<PrintedList, 'paper' | 'orientation'>,
) {
  const columns = query.listing.columns.flatMap((one) => columnOf(tables, table.id, one) ?? []);
  const landscape = orientation === 'landscape' || (orientation === 'auto' && columns.length > MOST_PORTRAIT);
  const width = innerWidth(paper, landscape);
  if (columns.length > mostColumns(width))
    throw new Refusal(
      422,
      say(
        '{count} columns do not fit beside each other on this paper: at most {width} do. Hide some of them, or print it in landscape.',
        { count: columns.length, width: mostColumns(width) },
      ),
    );
  return { columns, landscape, width };
}

/** Checks that a list can be printed. Throws 422 for too many records or groups, and for columns that do not fit. */
export async function requirePrintable(
  reading: ListReading,
  list: Pick<PrintedList, 'paper' | 'orientation'>,
): Promise<void> {
  onPaper(reading, list);
  const { total } = await readPage(reading, undefined, 1);
  if (total !== null && total > MOST_PRINTED)
    throw new Refusal(
      422,
      say(
        'These are {total} records; at most {mostPrinted} are printed at once. Filter the list, or export it as a workbook.',
        { total: formatCount(total), mostPrinted: formatCount(MOST_PRINTED) },
      ),
    );
}

/**
 * The records of a listing as a document: its columns, its groups with their counts and summaries, its totals at the end. What
 * cannot be printed has been refused by `requirePrintable`.
 */
export async function listDocument(reading: ListReading, list: PrintedList): Promise<PrintedDocument> {
  const { listing } = reading.query;
  const { columns, landscape, width } = onPaper(reading, list);
  const rows: RuledRow[] = [];
  let left = 0;
  let groups: ListedGroup[] = [];
  let totals: { total: number; summaries: ListedGroup['summaries'] } = { total: 0, summaries: {} };
  let after: string | undefined;
  do {
    const page = await readPage(reading, after, STEP);
    if (page.total !== null) {
      totals = { total: page.total, summaries: page.summaries ?? {} };
      groups = [...(page.groups ?? [])];
    }
    for (const record of page.records) {
      if (left === 0 && groups.length > 0) {
        const [group] = groups.splice(0, 1) as [ListedGroup];
        left = group.count;
        rows.push(groupRow(reading, columns, group));
      }
      left--;
      rows.push({ kind: 'row', cells: columns.map((column) => listedText(record, column)) });
    }
    after = page.after ?? undefined;
  } while (after !== undefined);
  const summed = summaryCells(listing, columns, totals.summaries);
  if (summed.some((one) => one !== '')) rows.push({ kind: 'totals', cells: summed });
  const counted = `${formatCount(totals.total)} ${totals.total === 1 ? 'record' : 'records'}`;
  const ruled = columns.map(({ label, field }) => ({
    label,
    numeric: field !== undefined && typeOf(field).family === 'number',
  }));
  const content = [
    ...headOf(list.title, [...list.said, counted], width),
    { text: ' ', fontSize: 4 },
    ruledTable(ruled, rows, width),
  ];
  return printJob(content, { paper: list.paper, landscape, foot: list.title });
}

/** What stands under each column, with the word for it. */
function summaryCells(
  listing: Listing,
  columns: readonly KnownColumn[],
  summaries: ListedGroup['summaries'],
): string[] {
  const under = summariesUnder(listing, columns, summaries);
  return columns.map((column) => under.get(column.path) ?? '');
}

/** The head of a group: what it has in common and how many records, over its summaries. */
function groupRow(
  { tables, table, query: { listing } }: ListReading,
  columns: readonly KnownColumn[],
  group: ListedGroup,
): RuledRow {
  const title = groupTitle(group, columnAt(tables, table.id, listing.group ?? ''));
  const [, ...others] = summaryCells(listing, columns, group.summaries);
  return { kind: 'group', cells: [`${title} (${formatCount(group.count)})`, ...others] };
}
