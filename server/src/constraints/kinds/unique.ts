import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import type { ConstraintOf, TableId } from '@fiche/core/tables';
import type { ConstraintSql, ImportedRows } from './kind.ts';
import { agree, filled } from './range.ts';

const columnsOf = (fields: readonly string[]): string => fields.map((id) => quoted(id)).join(', ');

/** Records `r` of a table that have the same values in all of these fields as another. */
export const sameRecords = (table: TableId, fields: readonly string[]): string =>
  `(${fields.map((id) => `r.${quoted(id)}`).join(', ')}) IN (SELECT ${columnsOf(fields)} FROM ${relation(table)} WHERE ${filled(fields)} GROUP BY ${columnsOf(fields)} HAVING count(*) > 1)`;

/** Whether a record has what a new row `v` brings in all of these fields. */
export const alreadyThere = (table: TableId, fields: readonly string[]): string =>
  `EXISTS (SELECT 1 FROM ${relation(table)} o WHERE ${agree(fields, 'o', 'v')})`;

/** Rows of an import that come after one with the same values. */
export const sameInFile = (fields: readonly string[], { staging }: ImportedRows): string =>
  `s."action#" <> 'skip' AND s."row#" IN (SELECT "row#" FROM (SELECT "row#", row_number() OVER (PARTITION BY ${columnsOf(fields)} ORDER BY "row#") AS n FROM ${staging} s WHERE ${filled(fields, 's')} AND "action#" <> 'skip') t WHERE n > 1)`;

/** Rows of an import that have the values of another record; `inUse` leaves archived ones out. */
export const sameAsRecord = (fields: readonly string[], place: string, inUse = false): string =>
  `s."action#" <> 'skip' AND EXISTS (SELECT FROM ${place} r WHERE ${agree(fields, 'r', 's')} AND r.id IS DISTINCT FROM s."record#"${inUse ? ' AND r.archived_at IS NULL' : ''})`;

/** A unique index over the fields; archived records keep their values to themselves. */
export const unique: ConstraintSql<ConstraintOf<'unique'>> = {
  codes: ['23505'],
  index: (table, { fields }, name) =>
    `CREATE UNIQUE INDEX CONCURRENTLY IF NOT EXISTS ${quoted(name)} ON ${relation(table.id)} (${columnsOf(fields)})`,
  hold: (table, { fields }, name) => [
    `CREATE UNIQUE INDEX IF NOT EXISTS ${quoted(name)} ON ${relation(table.id)} (${columnsOf(fields)})`,
  ],
  release: (_table, name) => [`DROP INDEX IF EXISTS data.${quoted(name)}`],
  breakers: (table, { fields }) => ({
    where: sameRecords(table.id, fields),
    shown: fields,
    why: say('another record has the same'),
  }),
  conflict: (table, { fields }) => alreadyThere(table.id, fields),
  amongRows: (_table, { fields }, rows) => [
    sameInFile(fields, rows),
    ...(rows.place === undefined ? [] : [sameAsRecord(fields, rows.place)]),
  ],
};
