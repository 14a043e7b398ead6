import type { LineView } from '@fiche/core/api';
import type { RecordId, TableId, Tables } from '@fiche/core/tables';
import { ask, type Database } from '../database/index.ts';

/** A line of the ledger, as far as it says where and in which save it was written. */
interface PlacedLine {
  readonly place: string;
  readonly record: string;
  readonly transaction: number;
  readonly at: string;
}

/** Moments are told in milliseconds, and kept in microseconds. */
interface Row {
  readonly transaction: number;
  readonly at: string;
  readonly table: TableId;
  readonly record: RecordId;
  readonly toTable: TableId;
  readonly toRecord: RecordId;
}

type Named = LineView['wrote'][number];
type Titles = ReadonlyMap<string, string>;

const OF_RECORDS = 'data.';

/**
 * What ripples wrote for the saves of some lines, and which saves the lines follow that ripples wrote. `named` are the records
 * whose titles are needed; a record that the reader does not see has none, and is not told.
 */
export async function rippledBy(app: Database, tables: Tables, lines: readonly PlacedLine[]) {
  const records = lines.filter((line) => line.place.startsWith(OF_RECORDS));
  const rows =
    records.length === 0
      ? []
      : await ask<Row>(
          app,
          `WITH wanted AS (SELECT DISTINCT * FROM unnest(?::text[], ?::bigint[], ?::bigint[], ?::timestamptz[]) AS w(tbl, record, transaction, at))
           SELECT r.transaction, r.at, r.table_id AS "table", r.record, r.to_table AS "toTable", r.to_record AS "toRecord"
           FROM wanted w JOIN fiche.rippled r ON r.table_id = w.tbl AND r.record = w.record AND r.transaction = w.transaction AND date_trunc('milliseconds', r.at) = w.at WHERE r.to_table IS NOT NULL
           UNION
           SELECT r.transaction, r.at, r.table_id, r.record, r.to_table, r.to_record
           FROM wanted w JOIN fiche.rippled r ON r.to_table = w.tbl AND r.to_record = w.record AND r.transaction = w.transaction AND date_trunc('milliseconds', r.at) = w.at`,
          [
            records.map((line) => line.place.slice(OF_RECORDS.length)),
            records.map((line) => line.record),
            records.map((line) => line.transaction),
            records.map((line) => line.at),
          ],
        );
  const nameOf = (table: TableId, record: RecordId, titles: Titles): Named[] => {
    const title = titles.get(`${table}:${record}`);
    return title === undefined ? [] : [{ table, record, what: tables.get(table)?.label ?? table, title }];
  };
  const isOf = (line: PlacedLine, { transaction, at }: Row, table: TableId, record: RecordId): boolean =>
    line.transaction === transaction &&
    line.at === at &&
    line.place === OF_RECORDS + table &&
    Number(line.record) === Number(record);
  return {
    named: rows.flatMap((row) => [
      { table: row.table, id: Number(row.record) },
      { table: row.toTable, id: Number(row.toRecord) },
    ]),
    followedBy: (line: PlacedLine, titles: Titles): Named | null =>
      rows
        .filter((row) => isOf(line, row, row.toTable, row.toRecord))
        .flatMap((row) => nameOf(row.table, Number(row.record), titles))[0] ?? null,
    writtenFor: (line: PlacedLine, titles: Titles): Named[] =>
      rows
        .filter((row) => isOf(line, row, row.table, row.record))
        .flatMap((row) => nameOf(row.toTable, Number(row.toRecord), titles)),
  };
}
