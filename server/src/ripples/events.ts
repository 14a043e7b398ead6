import { isBlank, type Value, type Values } from '@fiche/core/fields';
import { describeChanges, type LineKind, linksIn } from '@fiche/core/history';
import { quoted, relation } from '@fiche/core/queries';
import { eventValues, type PreparedRipple, type RippleEvent } from '@fiche/core/ripples';
import {
  type EventKind,
  findField,
  linkedTable,
  type RecordId,
  type TableDefinition,
  type TableId,
  type Tables,
  typeOf,
  withoutBefore,
} from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import { factsSql, findRecordsWhere, readFacts, titlesOf } from '../records/index.ts';

/** A line of the ledger about a record, as far as a ripple reads it. */
export interface EventLine {
  readonly kind: LineKind;
  readonly before: Readonly<Record<string, unknown>> | null;
  readonly after: Readonly<Record<string, unknown>> | null;
}

/** Who saves, and when. */
export interface Saving {
  readonly account: string;
  readonly now: string;
}

/** A record that this transaction has written, with the numbers of its first and last line. */
export interface WrittenRecord {
  readonly id: RecordId;
  readonly first: number;
  readonly last: number;
}

/** Where in the ledger a save begins. */
export interface LedgerMark {
  /** The last line before it, of whichever transaction; 0 where there is none. */
  readonly line: number;
  /**
   * The moment of its lines, as the database writes it. As a constant of a question it leaves one month of the ledger to look at:
   * asked as `fiche.moment()`, every month is planned and locked.
   */
  readonly moment: string;
}

/** Where the ledger stands for a transaction whose actor is set. */
export async function ledgerMark(transaction: Transaction): Promise<LedgerMark> {
  const { rows } = await transaction.raw<{ rows: { line: number; moment: string }[] }>(
    'SELECT CASE WHEN is_called THEN last_value ELSE 0 END AS line, fiche.moment()::text AS moment FROM ledger.line_id_seq',
  );
  const [row] = rows;
  if (!row) throw new Error('The ledger has no sequence of lines');
  return { line: Number(row.line), moment: row.moment };
}

/**
 * The records of each table that this transaction has written since a line of the ledger, in the order of their first lines. Written
 * so that only the numbers of lines have an index: they are the newest, and few.
 */
export async function writtenSince(
  transaction: Transaction,
  since: LedgerMark,
  tables: readonly TableId[],
): Promise<Map<TableId, WrittenRecord[]>> {
  const { rows } = await transaction.raw<{ rows: { place: string; record: string; first: number; last: number }[] }>(
    `SELECT place, record, min(id) AS first, max(id) AS last FROM ledger.line
     WHERE id > ? AND at = ?::timestamptz AND transaction + 0 = txid_current() AND place || '' = ANY(?)
     GROUP BY place, record ORDER BY min(id)`,
    [since.line, since.moment, tables.map((id) => `data.${id}`)],
  );
  const records = new Map<TableId, WrittenRecord[]>();
  for (const { place, record, first, last } of rows) {
    const table = place.slice('data.'.length);
    const own = records.get(table) ?? [];
    own.push({ id: Number(record), first: Number(first), last: Number(last) });
    records.set(table, own);
  }
  return records;
}

/** The lines of some of these records, by record, oldest first; `moment` is theirs. */
export async function linesOf(
  transaction: Transaction,
  table: TableId,
  records: readonly WrittenRecord[],
  moment: string,
): Promise<Map<RecordId, EventLine[]>> {
  const first = records.reduce((least, one) => Math.min(least, one.first), Number.MAX_SAFE_INTEGER);
  const last = records.reduce((most, one) => Math.max(most, one.last), 0);
  const { rows } = await transaction.raw<{ rows: (EventLine & { record: string })[] }>(
    `SELECT record, kind, before, after FROM ledger.line
     WHERE id BETWEEN ? AND ? AND place = ? AND record = ANY(?) AND at = ?::timestamptz AND transaction + 0 = txid_current() ORDER BY id`,
    [first, last, `data.${table}`, records.map((one) => String(one.id)), moment] as string[],
  );
  const lines = new Map<RecordId, EventLine[]>();
  for (const { record, ...line } of rows) {
    const own = lines.get(Number(record)) ?? [];
    own.push(line);
    lines.set(Number(record), own);
  }
  return lines;
}

const KINDS: Readonly<Partial<Record<LineKind, EventKind>>> = { archive: 'archived', restore: 'restored' };

/** What the lines of one save did to a record: undefined where it is gone. */
function kindOf(lines: readonly EventLine[]): EventKind | undefined {
  if (lines.some((one) => one.kind === 'erase')) return undefined;
  if (lines.some((one) => one.kind === 'add')) return 'added';
  return lines.map((one) => KINDS[one.kind]).find((kind) => kind !== undefined) ?? 'changed';
}

/** The values of a record before the lines that led to what it has now. */
function valuesBefore(table: TableDefinition, after: Values, lines: readonly EventLine[]): Values {
  const before: Record<string, Value> = { ...after };
  for (const line of [...lines].reverse())
    for (const column of new Set([...Object.keys(line.before ?? {}), ...Object.keys(line.after ?? {})])) {
      const field = findField(table, column);
      const json = line.before?.[column];
      if (field) before[column] = json === undefined || json === null ? null : typeOf(field).stored(json);
    }
  return before;
}

/**
 * The saves of some records of a table as its ripples read them. `lines` are those of the save, by record; `later` those that
 * have come since, oldest first, for a save of the past.
 */
export async function eventsOf(
  transaction: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  lines: ReadonlyMap<RecordId, readonly EventLine[]>,
  ripples: readonly PreparedRipple[],
  { account, now }: Saving,
  later: ReadonlyMap<RecordId, readonly EventLine[]> = new Map(),
): Promise<RippleEvent[]> {
  const records = await findRecordsWhere(transaction, tables, table.id, 'r.id = ANY(?) ORDER BY r.id', [
    [...lines.keys()],
  ]);
  const made = records.flatMap((record) => {
    const own = lines.get(record.id) ?? [];
    const kind = kindOf(own);
    const after = valuesBefore(table, record.values, later.get(record.id) ?? []);
    return kind ? [{ record, kind, lines: own, after, net: netOf(table, own) }] : [];
  });
  const titles = await titlesOf(
    transaction,
    tables,
    made.flatMap(({ net }) => linksIn(table.fields, net.before, net.after)),
  );
  const events = made.map(
    ({ record, kind, lines: own, after, net }): RippleEvent => ({
      kind,
      record: record.id,
      title: record.title,
      changes: describeChanges(table.fields, net.before, net.after, titles),
      changed: new Set(Object.keys({ ...net.before, ...net.after })),
      values: eventValues(kind === 'added' ? null : valuesBefore(table, after, own), after),
      facts: {},
      titles,
      account,
      now,
    }),
  );
  const known = await withFacts(transaction, tables, table, events, ripples);
  const named = known.flatMap((event) => ripples.flatMap((one) => one.named(event)));
  if (named.length === 0) return known;
  const called = await titlesOf(transaction, tables, named);
  return known.map((event) => ({ ...event, titles: called }));
}

/** What the lines of one save changed in all: from what stood before the first to what stands after the last. */
function netOf(table: TableDefinition, lines: readonly EventLine[]) {
  const first = lines[0];
  if (lines.length === 1 && first) return { before: first.before, after: first.after };
  const before: Record<string, unknown> = {};
  const after: Record<string, unknown> = {};
  for (const line of lines)
    for (const column of new Set([...Object.keys(line.before ?? {}), ...Object.keys(line.after ?? {})])) {
      if (!(column in before) && !(column in after) && line.before?.[column] !== undefined)
        before[column] = line.before[column];
      after[column] = line.after?.[column] ?? null;
    }
  for (const column of Object.keys(after))
    if (findField(table, column) && JSON.stringify(before[column] ?? null) === JSON.stringify(after[column])) {
      delete before[column];
      delete after[column];
    }
  return { before: Object.keys(before).length > 0 ? before : null, after };
}

/** The events with what their ripples read behind links, one question for each link. */
async function withFacts(
  transaction: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  events: readonly RippleEvent[],
  ripples: readonly PreparedRipple[],
): Promise<RippleEvent[]> {
  const wanted = new Map<string, Set<string>>();
  for (const path of ripples.flatMap((one) => one.reads)) {
    const dot = path.indexOf('.');
    const link = path.slice(0, dot);
    wanted.set(link, (wanted.get(link) ?? new Set<string>()).add(path.slice(dot + 1)));
  }
  const known = new Map<string, Map<number, Values>>();
  for (const [link, paths] of wanted) {
    const target = linkedTable(findField(table, withoutBefore(link)));
    const ids = [...new Set(events.flatMap((one) => (isBlank(one.values[link]) ? [] : [Number(one.values[link])])))];
    if (target === undefined || ids.length === 0) continue;
    const { rows } = await transaction.raw<{ rows: { id: number; facts: Record<string, unknown> }[] }>(
      `SELECT r.id, ${factsSql(tables, target, 'r', [...paths])} AS facts FROM ${relation(target)} r WHERE r.${quoted('id')} = ANY(?)`,
      [ids],
    );
    known.set(link, new Map(rows.map((row) => [Number(row.id), readFacts(tables, target, row.facts)])));
  }
  if (known.size === 0) return [...events];
  return events.map((event) => ({
    ...event,
    facts: Object.fromEntries(
      [...known].flatMap(([link, facts]) => {
        const of = facts.get(Number(event.values[link]));
        return of ? [[link, of]] : [];
      }),
    ),
  }));
}
