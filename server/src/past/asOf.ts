import { type DefinitionLine, type TableThen, tablesThen, tableThen } from '@fiche/core/history';
import { say } from '@fiche/core/languages';
import { SeenTables } from '@fiche/core/queries';
import { rightToHistory } from '@fiche/core/rights';
import type { TableDefinition, TableId, Tables } from '@fiche/core/tables';
import { callersLimit } from '../access/index.ts';
import { ask, type Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { Refusal } from '../http/index.ts';
import { momentSql } from './moment.ts';
import { isKept, isLarge, snapshotOf, snapshotSource } from './snapshot.ts';
import { pageSource, pastSource } from './source.ts';

/** The tables of a cabinet as they stood at a moment. */
export interface Past {
  /** Reads records as they stood then: by the fields of then, and within the caller’s rights of today. */
  readonly tables: SeenTables;
  /** How the tables were defined then. */
  readonly then: ReadonlyMap<TableId, TableThen>;
}

/**
 * The tables as they stood at a moment, for a caller: records whose histories they may read, with the fields that they see
 * today, as those were then. Throws 422 for what is no moment of the past.
 */
export async function pastOf(app: Database, definitions: Definitions, at: string): Promise<Past> {
  const moment = momentSql(at);
  const whole = definitions.seen?.whole ?? definitions;
  const [{ future } = { future: true }] = await ask<{ future: boolean }>(app, `SELECT ${moment} > now() AS future`, []);
  if (future) throw new Refusal(422, say('This moment is still to come. Choose one of the past.'));
  const then = await definedThen(app, whole, moment);
  // A table that was made later has no lines of then: it reads as empty.
  const definedAs = (table: TableDefinition): TableDefinition => {
    const known = then.get(table.id);
    return known ? tableThen(table, known) : table;
  };
  const sources = new Map<TableId, string>();
  for (const table of whole.tables.values()) {
    const limit = callersLimit(definitions, table, 's', ({ role }) => rightToHistory(role, table));
    sources.set(table.id, pastSource(table, definedAs(table), moment, limit));
  }
  const all = (tables: Tables): Tables => new Map([...tables].map(([id, table]) => [id, definedAs(table)]));
  return { tables: new SeenTables(all(definitions.tables), all(whole.tables), new Map(), sources), then };
}

/** The tables as they stood at a moment, for a list of one of them. */
export interface ListedPast {
  readonly tables: SeenTables;
  /** Whether the list is counted, sorted and filtered in the time that one of today takes. */
  readonly ready: boolean;
}

/**
 * The same for a list of one table, which is counted, sorted and filtered: a large table is read from a table of its own, made
 * from the ledger once. With `early`, what is not made yet is not waited for. Throws 422 for a table that was made later.
 */
export async function listPast(
  { app, owner }: { readonly app: Database; readonly owner: Database },
  definitions: Definitions,
  tableId: TableId,
  at: string,
  { early = false }: { readonly early?: boolean } = {},
): Promise<ListedPast> {
  const past = await pastOf(app, definitions, at);
  const table = (definitions.seen?.whole ?? definitions).tables.get(tableId);
  const then = past.then.get(tableId);
  if (!table || !then) {
    if (table) requireMade(past, table);
    return { tables: past.tables, ready: true };
  }
  const moment = momentSql(at);
  const defined = tableThen(table, then);
  if (at === 'now' || !(await isLarge(app, table, defined, moment))) return { tables: past.tables, ready: true };
  const limit = callersLimit(definitions, table, 's', ({ role }) => rightToHistory(role, table));
  if (early && !(await isKept(owner, table, defined, moment)))
    return { tables: past.tables.withSource(tableId, pageSource(table, defined, moment, limit)), ready: false };
  const place = await snapshotOf(owner, table, defined, moment);
  return { tables: past.tables.withSource(tableId, snapshotSource(table, place, limit)), ready: true };
}

/** Refuses a table that was made after the moment. Throws 422. */
export function requireMade({ then }: Past, table: TableDefinition): void {
  if (!then.has(table.id))
    throw new Refusal(
      422,
      say('{label} was made later than that. Choose a moment after it was made.', { label: table.label }),
    );
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
