import { type DefinitionLine, type TableThen, tablesThen } from '@fiche/core/history';
import { SeenTables } from '@fiche/core/queries';
import { rightToHistory } from '@fiche/core/rights';
import type { TableDefinition, TableId } from '@fiche/core/tables';
import { callersLimit } from '../access/index.ts';
import { ask, type Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { Refusal } from '../http/index.ts';
import { momentSql } from './moment.ts';
import { isLarge, snapshotOf, snapshotSource } from './snapshot.ts';
import { pastSource } from './source.ts';

/** The tables of a cabinet as they stood at a moment. */
export interface Past {
  /** Reads records as they stood then: by today’s fields, and within the caller’s rights of today. */
  readonly tables: SeenTables;
  /** How the tables were defined then. */
  readonly then: ReadonlyMap<TableId, TableThen>;
}

/**
 * The tables as they stood at a moment, for a caller: records whose histories they may read, with the fields that they see
 * today. Throws 422 for what is no moment of the past.
 */
export async function pastOf(app: Database, definitions: Definitions, at: string): Promise<Past> {
  const moment = momentSql(at);
  const whole = definitions.seen?.whole ?? definitions;
  const [{ future } = { future: true }] = await ask<{ future: boolean }>(app, `SELECT ${moment} > now() AS future`, []);
  if (future) throw new Refusal(422, 'This moment is still to come. Choose one of the past.');
  const then = await definedThen(app, whole, moment);
  const sources = new Map<TableId, string>();
  for (const table of whole.tables.values()) {
    const limit = callersLimit(definitions, table, 's', ({ role }) => rightToHistory(role, table));
    // A table that was made later has no lines of then: it reads as empty.
    const known = then.get(table.id) ?? { label: table.label, title: table.title, fields: [] };
    sources.set(table.id, pastSource(table, known, moment, limit));
  }
  return { tables: new SeenTables(definitions.tables, whole.tables, new Map(), sources), then };
}

/**
 * The same for a list of one table, which is counted, sorted and filtered: a large table is read from a table of its own, made
 * from the ledger once. Throws 422 for a table that was made later.
 */
export async function listPast(
  { app, owner }: { readonly app: Database; readonly owner: Database },
  definitions: Definitions,
  tableId: TableId,
  at: string,
): Promise<SeenTables> {
  const past = await pastOf(app, definitions, at);
  const table = (definitions.seen?.whole ?? definitions).tables.get(tableId);
  const then = past.then.get(tableId);
  if (!table || !then) {
    if (table) requireMade(past, table);
    return past.tables;
  }
  const moment = momentSql(at);
  if (at === 'now' || !(await isLarge(app, tableId, moment))) return past.tables;
  const limit = callersLimit(definitions, table, 's', ({ role }) => rightToHistory(role, table));
  const place = await snapshotOf(owner, table, then, moment);
  return past.tables.withSource(tableId, snapshotSource(table, place, limit));
}

/** Refuses a table that was made after the moment. Throws 422. */
export function requireMade({ then }: Past, table: TableDefinition): void {
  if (!then.has(table.id))
    throw new Refusal(422, `${table.label} was made later than that. Choose a moment after it was made.`);
}

async function definedThen(app: Database, { tables }: Definitions, moment: string): Promise<Map<TableId, TableThen>> {
  const ids = [...tables.keys()];
  const lines = await ask<DefinitionLine & { now: boolean }>(
    app,
    `SELECT place, record, before, after, at <= ${moment} AS now FROM ledger.line
     WHERE place IN ('fiche.table', 'fiche.field') AND split_part(record, '.', 1) = ANY(?) AND kind <> 'erase' ORDER BY id`,
    [ids],
  );
  const known = new Set(lines.map((line) => `${line.place} ${line.record}`));
  return tablesThen(
    tables,
    lines.filter((line) => line.now),
    known,
  );
}
