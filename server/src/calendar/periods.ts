import { MOST_PERIODS, type PeriodsAnswer } from '@fiche/core/api';
import type { Period } from '@fiche/core/calendar';
import type { Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { quoted, recordsOf } from '@fiche/core/queries';
import {
  type FieldDefinition,
  findField,
  type TableDefinition,
  type Tables,
  targetTable,
  typeOf,
} from '@fiche/core/tables';
import { columnAt, type Listing, periodSettings } from '@fiche/core/views';
import type { Database } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import { type RecordFilter, showTitle, titleSql } from '../records/index.ts';
import { behindSql, conditionsOf, type Reader } from '../views/index.ts';

interface PeriodRow {
  readonly id: string | number;
  readonly version: string | number;
  readonly title: unknown;
  readonly label: [unknown, unknown] | null;
  readonly start: unknown;
  readonly end: unknown;
  readonly lane: string | number | null;
}

/** Some days: from the beginning of one to the beginning of another. */
interface Days {
  readonly from: string;
  readonly to: string;
}

/** What a listing that is shown as a calendar or as lanes has in some days, in order of beginning. Throws 422 for any other. */
export async function periodsOf(
  database: Database,
  tables: Tables,
  table: TableDefinition,
  { listing, from, to, ...filter }: RecordFilter & Days & { readonly listing: Listing },
  reader: Reader,
): Promise<PeriodsAnswer> {
  const settings = periodSettings(listing.shown);
  const begins = findField(table, settings?.start ?? '');
  if (!settings || !begins)
    throw new Refusal(422, say('This is not shown in time. Choose Calendar or Lanes, then by which dates.'));
  const { where, values } = conditionsOf(tables, table, listing, filter, reader);
  const start = `r.${quoted(settings.start)}`;
  const end = settings.end === null ? null : `r.${quoted(settings.end)}`;
  const label = settings.label === null ? 'NULL::json' : behindSql(tables, table, settings.label);
  // What begins before the days and has not ended when they begin is among them; a blank end lasts on.
  const lasts = end === null ? '' : ` OR ${end} >= ? OR ${end} IS NULL`;
  const { rows } = await database.raw<{ rows: PeriodRow[] }>(
    `SELECT r.id, r.version, ${titleSql(tables, table, 'r')} AS title, ${label} AS label, ${start} AS start,
       ${end ?? 'NULL'} AS "end", ${settings.lane === undefined ? 'NULL' : `r.${quoted(settings.lane)}`} AS lane
     FROM ${recordsOf(tables, table.id)} r
     WHERE ${where.join(' AND ')} AND ${start} < ? AND (${start} >= ?${lasts}) ORDER BY ${start}, r.id LIMIT ?`,
    [...values, to, from, ...(end === null ? [] : [from]), MOST_PERIODS + 1],
  );
  const ends = findField(table, settings.end ?? '');
  const periods = rows.slice(0, MOST_PERIODS).map(
    (row): Period => ({
      id: Number(row.id),
      version: Number(row.version),
      title: showTitle(tables, table, row.title),
      label: settings.label === null ? null : labelText(tables, table, settings.label, row.label),
      start: civil(begins, row.start) ?? '',
      end: ends ? civil(ends, row.end) : null,
      lane: row.lane === null ? null : Number(row.lane),
    }),
  );
  return { periods, more: rows.length > MOST_PERIODS };
}

const civil = (field: FieldDefinition, raw: unknown): string | null =>
  raw === null || raw === undefined ? null : String(typeOf(field).stored(raw));

/** What is written on a period: a value as people read it, a linked record by its title; null where it is blank. */
function labelText(tables: Tables, table: TableDefinition, path: string, found: PeriodRow['label']): string | null {
  const field = columnAt(tables, table.id, path)?.field;
  const [value = null, title = null] = found ?? [];
  if (!field || value === null) return null;
  const target = tables.get(targetTable(field) ?? '');
  if (target) return showTitle(tables, target, title);
  const type = typeOf(field);
  return type.format(type.stored(value) as Exclude<Value, null>, field.settings);
}
