import type { SavedAct } from '@fiche/core/rights';
import type { TableDefinition } from '@fiche/core/tables';
import { ask, type Database } from '../database/index.ts';

/** At most so many saves, lines of one save, and lines of all; and how many lines one query reads. */
const SAVES = 500;
const LINES_OF_A_SAVE = 50;
const LINES = 5_000;
const AT_ONCE = 2_000;

/** A line of the ledger that somebody wrote in a save of theirs. */
export interface SavedLine {
  readonly id: string;
  /** The transaction: lines of one belong to one save. */
  readonly save: string;
  readonly place: string;
  readonly record: number;
  readonly account: string;
  readonly kind: SavedAct['kind'];
  readonly fields: readonly string[];
  readonly byImport: boolean;
}

/**
 * The lines of the last saves of the people with a role, newest first. Of a save of many lines, such as an import, it gives the newest
 * ones, so that a large save does not hide those before it.
 */
export async function lastSaves(
  app: Database,
  cabinet: string,
  role: string,
  tables: readonly TableDefinition[],
): Promise<SavedLine[]> {
  const places = tables.map((table) => `data.${table.id}`);
  const kept: SavedLine[] = [];
  const linesOf = new Map<string, number>();
  let before: string | null = null;
  for (;;) {
    const full = [...linesOf].filter(([, count]) => count >= LINES_OF_A_SAVE).map(([save]) => save);
    const found: SavedLine[] = await ask<SavedLine>(
      app,
      `SELECT l.id, l.transaction AS save, l.place, l.record::bigint AS record, l.account, l.kind,
         coalesce(l.through->>'kind', '') = 'import' AS "byImport",
         ARRAY(SELECT json_object_keys(coalesce(l.after, '{}'))) AS fields
       FROM ledger.line l WHERE l.account IN (SELECT m.login FROM fiche.membership m WHERE m.cabinet = ? AND m.role = ?)
         AND l.place = ANY(?) AND l.kind <> 'erase' AND coalesce(l.through->>'kind', '') NOT IN ('ripple', 'upgrade')
         AND (?::bigint IS NULL OR l.id < ?) AND l.transaction <> ALL(?::bigint[])
       ORDER BY l.id DESC LIMIT ${AT_ONCE}`,
      [cabinet, role, places, before, before, full],
    );
    for (const line of found) {
      const count = linesOf.get(line.save) ?? 0;
      if (count >= LINES_OF_A_SAVE || (count === 0 && linesOf.size === SAVES)) continue;
      linesOf.set(line.save, count + 1);
      kept.push(line);
    }
    if (found.length < AT_ONCE || linesOf.size === SAVES || kept.length >= LINES) return kept;
    before = found.at(-1)?.id ?? null;
  }
}
