import { isLinking } from '@fiche/core/fields';
import { recordsOf } from '@fiche/core/queries';
import { type RecordId, type TableDefinition, type TableId, type Tables, titleFields } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { choiceSearchSql, searchSql } from './search.ts';
import { showTitle, titleSql } from './titles.ts';

const OF_EACH_TABLE = 4;
const MOST = 24;

/** The records in use of a cabinet whose title has every word that was typed: a few of each table, in table order. */
export async function findByTitle(
  app: Database,
  tables: Tables,
  cabinet: string,
  words: string,
): Promise<{ table: TableId; record: RecordId; title: string }[]> {
  const found: { table: TableId; record: RecordId; title: string }[] = [];
  for (const table of tables.values()) {
    if (table.cabinet !== cabinet || table.kind !== 'records' || table.archived || found.length >= MOST) continue;
    found.push(...(await ofTable(app, tables, table, words)));
  }
  return found.slice(0, MOST);
}

async function ofTable(app: Database, tables: Tables, table: TableDefinition, words: string) {
  const named = titleFields(table);
  // A title with a linked record is searched in that record's title, too; one of text alone stops at the first it finds.
  const matching = named.some(isLinking)
    ? searchSql(tables, { ...table, fields: named }, words)
    : choiceSearchSql(tables, table, words, 'r', new Set(named.map((field) => field.id)));
  if (!matching || matching.text === 'FALSE') return [];
  const { rows } = await app.raw<{ rows: { id: number; title: unknown }[] }>(
    `SELECT r.id, ${titleSql(tables, table, 'r')} AS title FROM ${recordsOf(tables, table.id)} r WHERE r.archived_at IS NULL AND ${matching.text} LIMIT ${OF_EACH_TABLE}`,
    matching.values,
  );
  return rows.map((row) => ({ table: table.id, record: row.id, title: showTitle(tables, table, row.title) }));
}
