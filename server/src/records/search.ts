import { isIndexed, takesWords } from '@fiche/core/fields';
import { isPast, quoted, recordsOf, relation, wholeTable } from '@fiche/core/queries';
import {
  type FieldDefinition,
  linkedTable,
  type TableDefinition,
  type Tables,
  targetTable,
  titleNames,
  typeOf,
} from '@fiche/core/tables';

/** Below this many letters a trigram index is of no use. */
const INDEXED_LETTERS = 3;

interface Sql {
  readonly text: string;
  readonly values: (string | number)[];
}

/**
 * Typed words against what a table's rows show: text, choices, titles of linked records, numbers and dates. Every word has
 * to stand somewhere. Each place is asked by itself, so that each has its index. Undefined when nothing was typed.
 */
export function searchSql(tables: Tables, table: TableDefinition, search: string, alias = 'r'): Sql | undefined {
  const words = wordsOf(search);
  if (words.length === 0) return undefined;
  const parts = words.map((word): Sql => {
    const places = table.fields.flatMap((field) => placeSql(tables, field, word));
    const own = wordSql(table, wholeTable(tables, table), '', word);
    if (own) places.unshift(own);
    if (places.length === 0) return { text: 'FALSE', values: [] };
    const values = places.flatMap((place) => place.values);
    const all = isPast(tables, table.id) ? `${recordsOf(tables, table.id)} p` : relation(table.id);
    if (word.length < INDEXED_LETTERS)
      return {
        text: `${alias}.id IN (SELECT id FROM ${all} WHERE ${places.map((place) => place.text).join(' OR ')})`,
        values,
      };
    const asked = places.map((place) => `SELECT id FROM ${all} WHERE ${place.text}`);
    return { text: `${alias}.id IN (${asked.join(' UNION ALL ')})`, values };
  });
  return { text: parts.map((part) => part.text).join(' AND '), values: parts.flatMap((part) => part.values) };
}

/** Where else than in the one-line text of a row a word can stand: in one column, as a condition of its table. */
function placeSql(tables: Tables, field: FieldDefinition, word: string): Sql[] {
  const column = quoted(field.id);
  if (typeOf(field).long) return [{ text: `${column} ILIKE ?`, values: [likeWord(word)] }];
  const target = tables.get(targetTable(field) ?? '');
  if (target) {
    const named = new Set(titleNames(target.title ?? ''));
    const title = typedSearchSql({ ...target, fields: target.fields.filter((one) => named.has(one.id)) }, 't.');
    if (title === undefined) return [];
    const among = `SELECT t.id FROM ${recordsOf(tables, target.id)} t WHERE (${title}) ILIKE ?`;
    const single = linkedTable(field) !== undefined;
    return [{ text: single ? `${column} IN (${among})` : `${column} && ARRAY(${among})`, values: [likeWord(word)] }];
  }
  const choices = takesWords(field) ? ((field.settings.choices as string[] | undefined) ?? []) : [];
  const found = choices.filter((one) => one.toLowerCase().includes(word.toLowerCase()));
  if (found.length > 0)
    return [{ text: `${column} && ARRAY[${found.map(() => '?').join(', ')}]::text[]`, values: found }];
  const { family } = typeOf(field);
  if (family !== 'number' && family !== 'date') return [];
  const read = typeOf(field).parse(word, field.settings);
  return read.ok && (typeof read.value === 'number' || typeof read.value === 'string')
    ? [{ text: `${column} = ?::${typeOf(field).column(field.settings)}`, values: [read.value] }]
    : [];
}

/** The text columns that typing in a dropdown searches: those of one line. */
export const typedColumns = (table: TableDefinition): FieldDefinition[] =>
  table.fields.filter((field) => typeOf(field).family === 'text' && isIndexed(field));

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
  tables: Tables,
  table: TableDefinition,
  search: string,
  alias: string,
  only?: ReadonlySet<string>,
): { text: string; values: string[] } | undefined {
  const words = wordsOf(search);
  if (words.length === 0) return undefined;
  const searched = only ? { ...table, fields: table.fields.filter((field) => only.has(field.id)) } : table;
  const parts = words.map((word) => wordSql(searched, wholeTable(tables, table), `${alias}.`, word));
  if (!parts[0]) return { text: 'FALSE', values: [] };
  return {
    text: parts.map((part) => part?.text).join(' AND '),
    values: parts.flatMap((part) => part?.values ?? []),
  };
}

/**
 * One word in the text of the columns that may be searched. The index stands on those of the whole table: where these are
 * more, the word is looked for in them first, which finds no record too few, and then where it may stand.
 */
function wordSql(
  searched: TableDefinition,
  whole: TableDefinition,
  prefix: string,
  word: string,
): { text: string; values: string[] } | undefined {
  const text = typedSearchSql(searched, prefix);
  const indexed = typedSearchSql(whole, prefix);
  if (text === undefined) return undefined;
  if (indexed === undefined || indexed === text) return { text: `(${text}) ILIKE ?`, values: [likeWord(word)] };
  return { text: `((${indexed}) ILIKE ? AND (${text}) ILIKE ?)`, values: [likeWord(word), likeWord(word)] };
}

const wordsOf = (search: string): string[] =>
  search
    .normalize('NFC')
    .trim()
    .split(/\s+/)
    .filter((word) => word !== '')
    .slice(0, 8);

const likeWord = (word: string): string => `%${word.replace(/[\\%_]/g, '\\$&')}%`;
