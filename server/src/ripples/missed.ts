import type { MissedSaves } from '@fiche/core/api';
import type { Through } from '@fiche/core/history';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { type PreparedRipple, prepareRipple } from '@fiche/core/ripples';
import type { RecordId, Ripple, TableDefinition, Tables } from '@fiche/core/tables';
import { ask, type Database } from '../database/index.ts';
import { notFound, unacceptable } from '../http/index.ts';
import { type EventLine, eventsOf } from './events.ts';

/** So many lines are looked at, the newest first, and so many saves named. */
const MOST_LINES = 20_000;
const MOST_NAMED = 100;
/** Records whose saves are read together. */
const BATCH = 200;

interface Line extends EventLine {
  readonly record: RecordId;
  readonly transaction: number;
  readonly at: string;
  readonly account: string;
  readonly through: Through | null;
}

/**
 * The saves since a ripple was last changed that it should have followed and did not: those of a direct database session, and
 * of work that fills or converts a field. What stands behind links is read as it is today.
 */
export async function missedByRipple(
  database: Database,
  tables: Tables,
  table: TableDefinition,
  id: string,
): Promise<MissedSaves> {
  const ripple = table.ripples?.find((one) => one.id === id);
  if (!ripple) throw notFound(say('This ripple'));
  const prepared = prepareRipple(ripple, table, tables);
  if ('problems' in prepared) throw unacceptable(prepared.problems);
  const since = await changedAt(database, table, ripple);
  const lines = await ask<Line>(
    database,
    `SELECT record::bigint AS record, kind, before, after, transaction, at, account, through FROM ledger.line
     WHERE place = ? AND at > ?::timestamptz ORDER BY id DESC LIMIT ${MOST_LINES + 1}`,
    [`data.${table.id}`, since],
  );
  const some = lines.slice(0, MOST_LINES);
  const records = [...new Set(some.map((one) => Number(one.record)))];
  const saves: MissedSaves['saves'] = [];
  for (let from = 0; from < records.length && saves.length < MOST_NAMED; from += BATCH)
    saves.push(...(await missedOf(database, { tables, table, prepared }, some, records.slice(from, from + BATCH))));
  const looked = new Set(some.map((one) => `${one.transaction} ${one.record}`)).size;
  return { looked, more: lines.length > MOST_LINES, since, saves: saves.slice(0, MOST_NAMED) };
}

/** When a ripple was last changed, from the lines of its table. */
async function changedAt(database: Database, table: TableDefinition, ripple: Ripple): Promise<string> {
  const { rows } = await database.raw<{ rows: { at: string; after: { ripples?: Ripple[] } | null }[] }>(
    `SELECT at, after FROM ledger.line WHERE place = 'fiche.table' AND record = ? AND (before::jsonb \\? 'ripples' OR after::jsonb \\? 'ripples') ORDER BY id DESC`,
    [table.id],
  );
  const said = JSON.stringify(ripple);
  let since = rows[0]?.at ?? new Date().toISOString();
  for (const { at, after } of rows) {
    const then = after?.ripples?.find((one) => one.id === ripple.id);
    if (!then || !sameJson(then, said)) break;
    since = at;
  }
  return since;
}

/** Whether two ripples say the same, in whatever order their parts were stored. */
const sameJson = (one: Ripple, other: string): boolean => sorted(one) === sorted(JSON.parse(other));
const sorted = (part: unknown): string =>
  JSON.stringify(part, (_key, value: unknown) =>
    typeof value === 'object' && value !== null && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value,
  );

async function missedOf(
  database: Database,
  { tables, table, prepared }: { tables: Tables; table: TableDefinition; prepared: PreparedRipple },
  lines: readonly Line[],
  records: readonly RecordId[],
): Promise<MissedSaves['saves']> {
  const ran = new Set(
    (
      await ask<{ transaction: number; record: number }>(
        database,
        'SELECT DISTINCT transaction, record FROM fiche.rippled WHERE table_id = ? AND ripple = ? AND record = ANY(?)',
        [table.id, prepared.ripple.id, records],
      )
    ).map((one) => `${one.transaction} ${one.record}`),
  );
  const missed: MissedSaves['saves'] = [];
  // From the newest save of each record back: what stood before one is what stood after the one before it.
  for (const record of records) {
    const own = lines.filter((one) => Number(one.record) === record);
    const later: Line[] = [];
    for (const transaction of [...new Set(own.map((one) => one.transaction))]) {
      const save = own.filter((one) => one.transaction === transaction).reverse();
      const [first] = save;
      if (first && !ran.has(`${transaction} ${record}`)) {
        const saving = { account: first.account, now: civilNow() };
        const before = new Map([[record, later]]);
        const [event] = await eventsOf(database, tables, table, new Map([[record, save]]), [prepared], saving, before);
        if (event && prepared.follows(event))
          missed.push({
            record,
            title: event.title,
            at: first.at,
            account: first.account,
            through: first.through?.label ?? say('direct database session'),
            transaction,
          });
      }
      later.unshift(...save);
    }
  }
  return missed;
}
