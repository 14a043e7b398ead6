import type { DefinedForm } from '@fiche/core/forms';
import { type Finding, type LevelWord, levelWords } from '@fiche/core/proof';
import { quoted, relation } from '@fiche/core/queries';
import type { Tables } from '@fiche/core/tables';
import { ask, type Database, type Transaction } from '../database/index.ts';

/** Words that a form’s conditions compare with a level of an option list that does not have them, in one question a level. */
export async function unknownWords(
  database: Database | Transaction,
  definition: DefinedForm,
  tables: Tables,
): Promise<Finding[]> {
  const levels = new Map<string, LevelWord[]>();
  for (const one of levelWords(definition, tables)) {
    const key = `${one.table}.${one.column}`;
    levels.set(key, [...(levels.get(key) ?? []), one]);
  }
  const found: Finding[] = [];
  for (const words of levels.values()) {
    const [{ table, column } = { table: '', column: '' }] = words;
    if (tables.get(table)?.kind !== 'list') continue;
    const rows = await ask<{ word: string }>(
      database,
      `SELECT DISTINCT ${quoted(column)} AS word FROM ${relation(table)} WHERE archived_at IS NULL AND ${quoted(column)} = ANY(?)`,
      [words.map((one) => one.word)],
    );
    const known = new Set(rows.map((row) => row.word));
    found.push(...words.filter((one) => !known.has(one.word)).map((one) => one.finding));
  }
  return found;
}
