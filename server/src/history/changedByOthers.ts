import type { LineView } from '@fiche/core/api';
import { hasRight } from '../access/index.ts';
import { ask, type Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { historiesWhere, ledgerWhere, type Where } from './ledgerWhere.ts';
import { inWords, LINE_COLUMNS, type LineRow } from './store.ts';
import { withoutEmpty } from './visible.ts';

/** How many saves are shown, how many days are searched, and how many lines one query reads. */
const SAVES = 6;
const DAYS = 14;
const LINES = 60;
/** At most so many queries: each skips the saves that are found already, however many lines these have. */
const QUERIES = 10;

/**
 * The latest saves of others in a cabinet, newest first, each by its first line: of records whose history the caller reads; with the
 * right to the ledger of everything in it.
 */
export async function changedByOthers(
  app: Database,
  definitions: Definitions,
  cabinet: string,
  account: string,
): Promise<LineView[]> {
  const seen = hasRight(definitions, 'ledger')
    ? ledgerWhere(definitions, cabinet, { limit: 0 })
    : historiesWhere(definitions, cabinet);
  const lines: Where = {
    where: `account <> ? AND at >= now() - interval '${DAYS} days' AND ${seen.where}`,
    values: [account, ...seen.values],
  };
  const saves = await latestSaves(app, lines);
  const rows = await ask<LineRow>(
    app,
    `SELECT DISTINCT ON (transaction) ${LINE_COLUMNS} FROM ledger.line WHERE transaction = ANY(?) AND ${lines.where} ORDER BY transaction, id`,
    [saves, ...lines.values],
  );
  rows.sort((one, other) => other.id - one.id);
  return withoutEmpty(await inWords(app, definitions, rows), definitions).slice(0, SAVES);
}

/** The transactions of the latest saves: twice as many as are shown, since of some the caller sees nothing. */
async function latestSaves(app: Database, { where, values }: Where): Promise<number[]> {
  const saves = new Set<number>();
  let before: number | null = null;
  for (let query = 0; query < QUERIES && saves.size < 2 * SAVES; query++) {
    const rows: { id: number; transaction: number }[] = await ask<{ id: number; transaction: number }>(
      app,
      `SELECT id, transaction FROM ledger.line
       WHERE (?::bigint IS NULL OR id < ?) AND transaction <> ALL(?::bigint[]) AND ${where} ORDER BY id DESC LIMIT ${LINES}`,
      [before, before, [...saves], ...values],
    );
    for (const row of rows) saves.add(row.transaction);
    before = rows.at(-1)?.id ?? null;
    if (rows.length < LINES) break;
  }
  return [...saves].slice(0, 2 * SAVES);
}
