import type { RoleReplay } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { relation } from '@fiche/core/queries';
import { limitSql, type RoleDefinition, type Verdict, wouldAllow } from '@fiche/core/rights';
import type { RecordId, TableDefinition, TableId } from '@fiche/core/tables';
import { ask, type Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { findRecordsWhere, originsOfRecords } from '../records/index.ts';
import { lastSaves, type SavedLine } from './lastSaves.ts';

/** Reasons that are told, and examples of each. */
const MOST_REASONS = 50;
const EXAMPLES = 3;

/** A line that the role would not allow, and why. */
interface Refused {
  readonly line: SavedLine;
  readonly table: TableDefinition;
  readonly message: string;
}

/**
 * Holds what the people with a role saved last against what the role would allow, on the records as they are today: how much of it
 * they could not save again, and why. Of records that the caller does not see nothing is named.
 */
export async function replayRole(
  app: Database,
  definitions: Definitions,
  cabinet: string,
  id: string,
  role: RoleDefinition,
): Promise<RoleReplay> {
  const { tables } = definitions.seen?.whole ?? definitions;
  const here = [...tables.values()].filter((table) => table.cabinet === cabinet);
  const lines = await lastSaves(app, cabinet, id, here);
  const refused: Refused[] = [];
  for (const table of here) {
    const mine = lines.filter((line) => line.place === `data.${table.id}`);
    if (mine.length > 0) refused.push(...(await refusedOf(app, definitions, table, role, mine)));
  }
  const titles = await titlesSeen(app, definitions, refused);
  return {
    looked: countSaves(lines),
    refused: countSaves(refused.map(({ line }) => line)),
    reasons: reasonsOf(refused, titles),
  };
}

const countSaves = (lines: readonly SavedLine[]): number => new Set(lines.map(({ save }) => save)).size;

/** Refusals by their reason, the most frequent first. */
function reasonsOf(refused: readonly Refused[], titles: ReadonlyMap<string, string>): RoleReplay['reasons'] {
  const reasons = new Map<string, { saves: Set<string>; told: RoleReplay['reasons'][number] }>();
  for (const { line, table, message } of refused) {
    const key = `${table.id} ${message}`;
    const found = reasons.get(key) ?? {
      saves: new Set(),
      told: { table: table.id, message, saves: 0, examples: [] },
    };
    reasons.set(key, found);
    found.saves.add(line.save);
    const reason = found.told;
    reason.saves = found.saves.size;
    const title = titles.get(`${table.id} ${line.record}`);
    const known = reason.examples.some((one) => one.record === Number(line.record));
    if (title !== undefined && !known && reason.examples.length < EXAMPLES)
      reason.examples.push({ record: Number(line.record), title, account: line.account });
  }
  const all = [...reasons.values()].map(({ told }) => told);
  return all.sort((one, other) => other.saves - one.saves).slice(0, MOST_REASONS);
}

/** What of the lines of one table the role would not allow. */
async function refusedOf(
  app: Database,
  definitions: Definitions,
  table: TableDefinition,
  role: RoleDefinition,
  lines: readonly SavedLine[],
): Promise<Refused[]> {
  const { tables } = definitions.seen?.whole ?? definitions;
  const origins = await originsOfRecords(app, tables, table.id, [...new Set(lines.map((line) => Number(line.record)))]);
  const refused: Refused[] = [];
  /** Lines that are allowed if their record meets a condition, which may ask who asks. */
  const asked = new Map<string, { verdict: Exclude<Verdict, 'no'>; account: string; lines: SavedLine[] }>();
  for (const line of lines) {
    // What a form filled nobody wrote.
    const filled = origins.get(Number(line.record)) ?? {};
    const found = wouldAllow(role, table, {
      ...line,
      fields: line.fields.filter((field) => filled[field] === undefined),
    });
    if ('refusals' in found) refused.push(...found.refusals.map((message) => ({ line, table, message })));
    else if (found.verdict !== 'yes') {
      const key = JSON.stringify([found.verdict, line.account]);
      const group = asked.get(key) ?? { verdict: found.verdict, account: line.account, lines: [] };
      group.lines.push(line);
      asked.set(key, group);
    }
  }
  for (const { verdict, account, lines: those } of asked.values()) {
    const limit = limitSql(tables, table.id, 's', verdict, { account, now: civilNow() });
    const ids = those.map((line) => Number(line.record));
    const allowed = await idsWithin(app, table.id, ids, limit);
    const message = say('It is not among the records that the role may work on.');
    for (const line of those) if (!allowed.has(Number(line.record))) refused.push({ line, table, message });
  }
  return refused;
}

/** Of some records those that meet a condition; erased ones are no longer asked about. */
async function idsWithin(
  app: Database,
  table: TableId,
  ids: readonly RecordId[],
  limit: string | null,
): Promise<Set<number>> {
  const rows = await ask<{ id: number }>(
    app,
    `SELECT i.id FROM unnest(?::bigint[]) i(id) WHERE NOT EXISTS (SELECT FROM ${relation(table)} s WHERE s.id = i.id)
       OR i.id IN (SELECT s.id FROM ${relation(table)} s WHERE ${limit ?? 'TRUE'})`,
    [[...ids]],
  );
  return new Set(rows.map((row) => Number(row.id)));
}

/** The titles of the records that the caller sees, by table and number. */
async function titlesSeen(
  app: Database,
  { tables }: Definitions,
  refused: readonly Refused[],
): Promise<Map<string, string>> {
  const titles = new Map<string, string>();
  for (const id of new Set(refused.map(({ table }) => table.id))) {
    if (!tables.has(id)) continue;
    const ids = refused.flatMap(({ table, line }) => (table.id === id ? [Number(line.record)] : []));
    for (const record of await findRecordsWhere(app, tables, id, 'r.id = ANY(?)', [[...new Set(ids)]]))
      titles.set(`${id} ${record.id}`, record.title);
  }
  return titles;
}
