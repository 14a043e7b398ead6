import { linksSeveral } from '@fiche/core/fields';
import { quoted, relation } from '@fiche/core/queries';
import { type FieldDefinition, type TableDefinition, type Tables, targetTable } from '@fiche/core/tables';

/** The fields of all tables, those out of use as well, whose links point at records of one table. */
export const linksTo = (tables: Tables, target: string): { table: TableDefinition; field: FieldDefinition }[] =>
  [...tables.values()].flatMap((table) =>
    [...table.fields, ...table.retired]
      .filter((field) => targetTable(field) === target)
      .map((field) => ({ table, field })),
  );

/** Holds for the records, known as `alias`, whose link field points at the record bound to `?`; `past` for those as they stood once. */
export const linkingSql = (field: FieldDefinition, alias: string, past = false): string =>
  linksSeveral(field) && past
    ? `? = ANY(${alias}.${quoted(field.id)})`
    : linksSeveral(field)
      ? `${alias}.id IN (SELECT p.record FROM ${relation(String(field.settings.pairs))} p WHERE p.target = ?)`
      : `${alias}.${quoted(field.id)} = ?`;
