import { createHash } from 'node:crypto';
import { type Condition, pathsOf } from '@fiche/core/conditions';
import { type DefinedForm, prepareForm } from '@fiche/core/forms';
import { quoted, relation } from '@fiche/core/queries';
import { fieldAtPath, findField, linkedTable, type TableDefinition, type Tables, typeOf } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { type Definitions, loadDefinitions } from '../definitions/index.ts';
import { typedSearchSql } from '../records/index.ts';

/** Below this many records a scan is as quick as an index, and the index only costs. */
const WORTH_AN_INDEX = 20_000;

const PREFIX = 'made_';

/** Every index that narrowing and typing to find need, as the statement that follows its name. */
function neededIndexes({ tables, forms }: Definitions, sizes: ReadonlyMap<string, number>): Map<string, string> {
  const needed = new Map<string, string>();
  const need = (table: string, how: string): void => {
    const name = `${PREFIX}${createHash('sha1').update(`${table} ${how}`).digest('hex').slice(0, 20)}`;
    needed.set(name, `ON ${relation(table)} ${how}`);
  };
  for (const { live } of forms.values()) if (live) for (const { table, how } of ofForm(live, tables)) need(table, how);
  for (const table of tables.values()) {
    const text = typedSearchSql(table, '');
    if (text !== undefined && (sizes.get(table.id) ?? 0) >= WORTH_AN_INDEX)
      need(table.id, `USING gin ((${text}) gin_trgm_ops)`);
  }
  return needed;
}

/** The columns that a form's narrowing compares, each table its own; links have their index with their foreign key. */
function ofForm(form: DefinedForm, tables: Tables): { table: string; how: string }[] {
  if (!tables.has(form.table)) return [];
  const found: { table: string; how: string }[] = [];
  for (const { source, narrowing } of prepareForm(form, tables).fields.values()) {
    const table = tables.get(source?.table ?? '');
    if (!source || !table) continue;
    if (source.column !== undefined) {
      // The levels from the top: a level is read under all those above it, and its words stand in order.
      const levels = table.fields.slice(0, table.fields.findIndex((field) => field.id === source.column) + 1);
      if (levels.every((field) => typeOf(field).family === 'text'))
        found.push({ table: table.id, how: `(${levels.map((field) => quoted(field.id)).join(', ')})` });
      continue;
    }
    for (const { path, ordered } of comparedColumns(narrowing.where))
      found.push(...ofPath(tables, table, path, ordered));
  }
  return found;
}

/** The columns that a condition compares, and whether by their order. */
function comparedColumns(condition: Condition): { path: string; ordered: boolean }[] {
  if (condition.kind === 'group') return condition.of.flatMap(comparedColumns);
  const ordered = ['less', 'atMost', 'more', 'atLeast'].includes(condition.operator);
  return pathsOf(condition, 'column').map((path) => ({ path, ordered }));
}

function ofPath(
  tables: Tables,
  table: TableDefinition,
  path: string,
  ordered: boolean,
): { table: string; how: string }[] {
  const [first = '', ...rest] = path.split('.');
  const field = findField(table, first);
  const next = linkedTable(field);
  if (rest.length > 0 && next !== undefined) {
    const target = tables.get(next);
    return target ? ofPath(tables, target, rest.join('.'), ordered) : [];
  }
  if (!field || next !== undefined || fieldAtPath(tables, table.id, path) === undefined) return [];
  const collate = ordered && typeOf(field).family === 'text' ? ' COLLATE "C"' : '';
  return ['choices', 'links'].includes(field.type) ? [] : [{ table: table.id, how: `(${quoted(first)}${collate})` }];
}

/**
 * Makes the indexes that definitions need now and removes those that nothing needs any more, beside the writers. One
 * server at a time; what fails is tried again at the next turn. Returns what was made and removed.
 */
export async function tendIndexes(owner: Database): Promise<{ made: number; removed: number }> {
  const turn = await owner.client.acquireConnection();
  const ask = (sql: string): Promise<{ rows: Record<string, unknown>[] }> => turn.query(sql);
  try {
    const { rows: got } = await ask('SELECT pg_try_advisory_lock(4207851) AS got');
    if (got[0]?.got !== true) return { made: 0, removed: 0 };
    try {
      const { rows } = await ask(
        `SELECT c.relname AS name, c.relkind AS kind, c.reltuples::bigint AS size, coalesce(i.indisvalid, true) AS valid
         FROM pg_class c LEFT JOIN pg_index i ON i.indexrelid = c.oid WHERE c.relnamespace = 'data'::regnamespace AND c.relkind IN ('r', 'i')`,
      );
      const sizes = new Map(rows.filter((row) => row.kind === 'r').map((row) => [String(row.name), Number(row.size)]));
      const there = rows.filter((row) => row.kind === 'i' && String(row.name).startsWith(PREFIX));
      const needed = neededIndexes(await loadDefinitions(owner), sizes);
      let [made, removed] = [0, 0];
      for (const { name, valid } of there)
        if (!needed.has(String(name)) || valid !== true) {
          await ask(`DROP INDEX CONCURRENTLY IF EXISTS data.${quoted(String(name))}`);
          removed++;
        }
      const sound = new Set(there.filter((row) => row.valid === true).map((row) => row.name));
      for (const [name, how] of needed)
        if (!sound.has(name)) {
          await ask(`CREATE INDEX CONCURRENTLY IF NOT EXISTS ${quoted(name)} ${how}`);
          made++;
        }
      return { made, removed };
    } finally {
      await ask('SELECT pg_advisory_unlock(4207851)');
    }
  } finally {
    await owner.client.releaseConnection(turn);
  }
}
