import { isLinking } from '@fiche/core/fields';
import { quoted, recordsOf } from '@fiche/core/queries';
import {
  type RecordId,
  type TableDefinition,
  type TableId,
  type Tables,
  titleFields,
  typeOf,
} from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { choiceSearchSql, searchSql, typedColumns } from './search.ts';
import { showTitle, titleSql } from './titles.ts';

const OF_EACH_TABLE = 4;
const MOST = 24;

/** A record that was found, and the text of it that was: null where that is its title. */
export interface FoundByWords {
  readonly table: TableId;
  readonly record: RecordId;
  readonly title: string;
  readonly found: string | null;
}

/**
 * The records in use of a cabinet in which every word that was typed stands: in the title or, after those, in another field of
 * one line of text. A few of each table, in table order.
 */
export async function findByWords(
  app: Database,
  tables: Tables,
  cabinet: string,
  words: string,
): Promise<FoundByWords[]> {
  const searched = [...tables.values()].filter(
    (table) => table.cabinet === cabinet && table.kind === 'records' && !table.archived,
  );
  const found = await Promise.all(searched.map((table) => ofTable(app, tables, table, words)));
  return found.flat().slice(0, MOST);
}

async function ofTable(app: Database, tables: Tables, table: TableDefinition, words: string): Promise<FoundByWords[]> {
  const named = titleFields(table);
  // A title with a linked record is searched in that record's title, too; one of text alone stops at the first it finds.
  const inTitle = named.some(isLinking)
    ? searchSql(tables, { ...table, fields: named }, words)
    : choiceSearchSql(tables, table, words, 'r', new Set(named.map((field) => field.id)));
  const byTitle = await find(app, tables, table, inTitle, OF_EACH_TABLE);
  if (byTitle.length >= OF_EACH_TABLE) return byTitle;
  const known = new Set(byTitle.map((one) => one.record));
  const anywhere = await find(app, tables, table, choiceSearchSql(tables, table, words, 'r'), OF_EACH_TABLE, words);
  return [...byTitle, ...anywhere.filter((one) => !known.has(one.record))].slice(0, OF_EACH_TABLE);
}

async function find(
  app: Database,
  tables: Tables,
  table: TableDefinition,
  matching: { readonly text: string; readonly values: readonly (string | number)[] } | undefined,
  limit: number,
  words?: string,
): Promise<FoundByWords[]> {
  if (!matching || matching.text === 'FALSE') return [];
  const titles = new Set(titleFields(table));
  const columns = words === undefined ? [] : typedColumns(table).filter((field) => !titles.has(field));
  const { rows } = await app.raw<{ rows: { id: number; title: unknown; texts: (string | null)[] }[] }>(
    `SELECT r.id, ${titleSql(tables, table, 'r')} AS title, json_build_array(${columns.map(({ id }) => `r.${quoted(id)}`).join(', ')}) AS texts
     FROM ${recordsOf(tables, table.id)} r WHERE r.archived_at IS NULL AND ${matching.text} LIMIT ${limit}`,
    [...matching.values],
  );
  return rows.map(({ id, title, texts }) => {
    const at = texts.findIndex((text) => holdsOne(text, words ?? ''));
    const [field, text] = [columns[at], texts[at]];
    return {
      table: table.id,
      record: id,
      title: showTitle(tables, table, title),
      found: field && text != null ? `${field.label} ${typeOf(field).format(text, field.settings)}` : null,
    };
  });
}

/** Whether a text has one of the words. */
const holdsOne = (text: string | null, words: string): boolean =>
  text !== null &&
  words
    .toLowerCase()
    .split(/\s+/)
    .some((word) => word !== '' && text.toLowerCase().includes(word));
