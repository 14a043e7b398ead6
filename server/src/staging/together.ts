import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import { constraintFields, type FieldId, type TableDefinition, typeOf } from '@fiche/core/tables';
import { COMBINATION_TWICE, constraintSql, type ImportedRows, sameAsRecord, sameInFile } from '../constraints/index.ts';

/** Takes the staged rows `s` out that hold a condition in SQL, with the reason and the field that it is said at. */
export type Refuse = (where: string, field: FieldId, message: string) => Promise<void>;

/**
 * Checks what only all rows together show, in the database: what would be there twice or overlap, among themselves or with
 * the records of the table that they do not change. `there` is false for a table that is still to be made. Rows wait whole, so
 * that a change of one field is held to rules over several.
 */
export async function checkTogether(
  {
    staging,
    table,
    there,
    twice,
  }: {
    readonly staging: string;
    readonly table: TableDefinition;
    readonly there: boolean;
    /** What is said where an earlier row has the same value of a field. */
    twice(label: string): string;
  },
  refuse: Refuse,
): Promise<void> {
  const place = relation(table.id);
  const rows: ImportedRows = {
    staging,
    place: there ? place : undefined,
    all(columns) {
      const list = columns.map((field) => quoted(field)).join(', ');
      const others = there
        ? ` UNION ALL SELECT NULL, ${list} FROM ${place} r WHERE archived_at IS NULL AND NOT EXISTS (SELECT FROM ${staging} x WHERE x."record#" = r.id AND x."action#" = 'change')`
        : '';
      return `SELECT "row#" AS number, ${list} FROM ${staging} WHERE "action#" <> 'skip'${others}`;
    },
  };
  for (const field of table.fields.filter((one) => one.unique && typeOf(one).editable)) {
    await refuse(sameInFile([field.id], rows), field.id, twice(field.label));
    if (there)
      await refuse(
        sameAsRecord([field.id], place),
        field.id,
        say('Another record already has this {label}. It must be different in each record.', { label: field.label }),
      );
  }
  for (const one of table.constraints)
    for (const where of constraintSql(one).amongRows(table, one, rows))
      await refuse(where, constraintFields(one).at(-1) ?? '', one.message);
  if (table.kind === 'list') {
    const levels = table.fields.map((field) => field.id);
    await refuse(sameInFile(levels, rows), levels.at(-1) ?? '', say(COMBINATION_TWICE));
    if (there) await refuse(sameAsRecord(levels, place, true), levels.at(-1) ?? '', say(COMBINATION_TWICE));
  }
}
