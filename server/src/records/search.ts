import { quoted } from '@fiche/core/queries';
import { type FieldDefinition, type TableDefinition, typeOf } from '@fiche/core/tables';

/** Typed words against a table's text columns; every word has to stand somewhere. Undefined when nothing was typed. */
export function searchSql(
  table: TableDefinition,
  search: string,
  alias = 'r',
): { text: string; values: string[] } | undefined {
  const words = wordsOf(search);
  const columns = table.fields
    .filter((field) => typeOf(field).family === 'text')
    .map((field) => `${alias}.${quoted(field.id)}`);
  if (words.length === 0) return undefined;
  if (columns.length === 0) return { text: 'FALSE', values: [] };
  return {
    text: words.map(() => `concat_ws(' ', ${columns.join(', ')}) ILIKE ?`).join(' AND '),
    values: words.map(likeWord),
  };
}

/** The text columns that typing in a dropdown searches: those of one line. */
export const typedColumns = (table: TableDefinition): FieldDefinition[] =>
  table.fields.filter((field) => typeOf(field).family === 'text' && field.type !== 'longText');

/** What typing in a dropdown searches, as one expression that an index can stand on; undefined without a text column. */
export function typedSearchSql(table: TableDefinition, prefix: string): string | undefined {
  const columns = typedColumns(table);
  if (columns.length === 0) return undefined;
  return columns.map((field) => `coalesce(${prefix}${quoted(field.id)}, '')`).join(` || ' ' || `);
}

/**
 * Typed words against the one-line text columns of a dropdown's choices; every word has to stand somewhere. `only` names
 * the columns that may be searched, where not all of them may: a search tells what stands in a column.
 */
export function choiceSearchSql(
  table: TableDefinition,
  search: string,
  alias: string,
  only?: ReadonlySet<string>,
): { text: string; values: string[] } | undefined {
  const words = wordsOf(search);
  if (words.length === 0) return undefined;
  const searched = only ? { ...table, fields: table.fields.filter((field) => only.has(field.id)) } : table;
  const text = typedSearchSql(searched, `${alias}.`);
  if (text === undefined) return { text: 'FALSE', values: [] };
  return { text: words.map(() => `(${text}) ILIKE ?`).join(' AND '), values: words.map(likeWord) };
}

const wordsOf = (search: string): string[] =>
  search
    .normalize('NFC')
    .trim()
    .split(/\s+/)
    .filter((word) => word !== '')
    .slice(0, 8);

const likeWord = (word: string): string => `%${word.replace(/[\\%_]/g, '\\$&')}%`;
