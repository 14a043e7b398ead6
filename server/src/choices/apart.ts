import { linksOne } from '@fiche/core/fields';
import type { Choice } from '@fiche/core/narrowing';
import { quoted, recordsOf } from '@fiche/core/queries';
import { linkedTable, type TableDefinition, type Tables, titleFields } from '@fiche/core/tables';
import { ask, type Database, type Transaction } from '../database/index.ts';
import { showTitle, titleSql, typedColumns } from '../records/index.ts';

/** Columns that are looked at to tell records of the same title apart. */
const LOOKED_AT = 8;

/**
 * Adds to choices that look the same what tells them apart: the first searched column in which they differ, else what
 * they link to, else their numbers. For those who may see the records.
 */
export async function tellApart(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  choices: readonly Choice[],
): Promise<Choice[]> {
  const alike = new Map<string, Choice[]>();
  for (const choice of choices) {
    const key = JSON.stringify([choice.title, choice.shown]);
    alike.set(key, [...(alike.get(key) ?? []), choice]);
  }
  const doubled = [...alike.values()].filter((group) => group.length > 1);
  if (doubled.length === 0) return [...choices];
  const words = await wordsOf(database, tables, table, doubled.flat());
  const added = new Map<Choice, string>();
  for (const group of doubled) {
    const of = (choice: Choice): readonly string[] => words.get(Number(choice.value)) ?? [];
    const width = Math.max(...group.map((choice) => of(choice).length));
    const at = Array.from({ length: width }, (_one, n) => n).find(
      (n) => new Set(group.map((choice) => of(choice)[n])).size === group.length,
    );
    for (const choice of group) {
      const said = at === undefined ? '' : (of(choice)[at] ?? '');
      added.set(choice, said === '' ? `No. ${choice.value}` : said);
    }
  }
  return choices.map((choice) => {
    const said = added.get(choice);
    return said === undefined ? choice : { ...choice, shown: [...choice.shown, said] };
  });
}

/** What the columns that can tell records apart say, by record. */
async function wordsOf(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  choices: readonly Choice[],
): Promise<Map<number, string[]>> {
  const titles = new Set(titleFields(table).map((field) => field.id));
  const texts = typedColumns(table).filter((field) => !titles.has(field.id));
  const links = table.fields.flatMap((field) => {
    const target = linksOne(field) && !titles.has(field.id) ? tables.get(linkedTable(field) ?? '') : undefined;
    return target ? [{ field, target }] : [];
  });
  const columns = [
    ...texts.map((field) => ({ sql: `r.${quoted(field.id)}`, show: String })),
    ...links.map(({ field, target }) => ({
      sql: `(SELECT ${titleSql(tables, target, 's')} FROM ${recordsOf(tables, target.id)} s WHERE s.id = r.${quoted(field.id)})`,
      show: (value: unknown) => showTitle(tables, target, value),
    })),
  ].slice(0, LOOKED_AT);
  const selected = columns.map(({ sql }, n) => `, ${sql} AS word${n}`).join('');
  const rows = await ask<{ id: number; [word: `word${number}`]: unknown }>(
    database,
    `SELECT r.id${selected} FROM ${recordsOf(tables, table.id)} r WHERE r.id = ANY(?)`,
    [choices.map((choice) => choice.value)],
  );
  return new Map(
    rows.map((row) => [
      Number(row.id),
      columns.map(({ show }, n) => (row[`word${n}`] == null ? '' : show(row[`word${n}`]))),
    ]),
  );
}
