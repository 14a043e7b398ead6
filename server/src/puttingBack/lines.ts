import type { LineKind } from '@fiche/core/history';
import { say } from '@fiche/core/languages';
import { relation } from '@fiche/core/queries';
import type { RecordId, TableId } from '@fiche/core/tables';
import { ask, type Database } from '../database/index.ts';
import { Refusal } from '../http/index.ts';

/** Records that are put back at once. */
const MOST = 5_000;

/** Which save: the number that all of its lines have, and their moment in milliseconds, as lines tell it. */
export interface SaveId {
  readonly transaction: number;
  readonly at?: string | undefined;
}

/** What one save did to a record: its lines, oldest first. */
export interface SavedRecord {
  readonly table: TableId;
  readonly record: RecordId;
  readonly kind: LineKind;
  /** The captured columns that differ, before the first of its lines and after the last. */
  readonly before: Readonly<Record<string, unknown>>;
  readonly after: Readonly<Record<string, unknown>>;
  /** The version that the save left. */
  readonly version: number;
}

interface Line {
  readonly place: string;
  readonly record: string;
  readonly kind: LineKind;
  readonly version: number;
  readonly before: Readonly<Record<string, unknown>> | null;
  readonly after: Readonly<Record<string, unknown>> | null;
}

/** A save of more records than are put back at once. */
export class TooManySaved extends Refusal {
  constructor() {
    super(
      422,
      say(
        'This wrote more than {most} records, too many to put back at once. Look at it first, and put back what it added and what it changed of each table.',
        { most: MOST },
      ),
    );
  }
}

/** How many records of a table one transaction added, and changed that were there before: of those that meet a condition over `r`. */
export async function savedPart(
  app: Database,
  { transaction, at }: SaveId,
  table: TableId,
  limit: string,
): Promise<{ added: number; changed: number }> {
  const [row] = await ask<{ added: number; changed: number }>(
    app,
    `SELECT count(*) FILTER (WHERE added) AS added, count(*) FILTER (WHERE changed AND NOT added) AS changed FROM (
       SELECT bool_or(l.kind = 'add') AS added, bool_or(l.kind = 'change') AS changed FROM ledger.line l
       WHERE l.transaction = ? AND l.place = ? AND date_trunc('milliseconds', l.at) = coalesce(?::timestamptz, date_trunc('milliseconds', l.at))
         AND l.record::bigint IN (SELECT r.id FROM ${relation(table)} r WHERE ${limit}) GROUP BY l.record) saved`,
    [transaction, `data.${table}`, at ?? null],
  );
  return { added: Number(row?.added), changed: Number(row?.changed) };
}

/** The records that one transaction wrote, at one moment where that is named, the last one first. Throws 422 where they are too many. */
export async function savedRecords(
  app: Database,
  { transaction, at }: SaveId,
  tables: readonly TableId[],
): Promise<SavedRecord[]> {
  const lines = await ask<Line>(
    app,
    `SELECT place, record, kind, version, before, after FROM ledger.line WHERE transaction = ? AND place = ANY(?) AND date_trunc('milliseconds', at) = coalesce(?::timestamptz, date_trunc('milliseconds', at)) ORDER BY id LIMIT ${2 * MOST + 1}`,
    [transaction, tables.map((id) => `data.${id}`), at ?? null],
  );
  const records = new Map<string, SavedRecord>();
  for (const line of lines) {
    const key = `${line.place} ${line.record}`;
    records.set(key, joined(records.get(key), line));
  }
  if (records.size > MOST) throw new TooManySaved();
  return [...records.values()].reverse();
}

function joined(known: SavedRecord | undefined, line: Line): SavedRecord {
  const before: Record<string, unknown> = { ...known?.before };
  const after: Record<string, unknown> = { ...known?.after };
  for (const column of new Set([...Object.keys(line.before ?? {}), ...Object.keys(line.after ?? {})])) {
    if (!(column in after)) before[column] = line.before?.[column] ?? null;
    after[column] = line.after?.[column] ?? null;
  }
  // What was added stays an addition, whatever the same save changed of it afterwards.
  const kind = known?.kind === 'add' || (known && line.kind === 'change') ? known.kind : line.kind;
  return {
    table: line.place.slice('data.'.length),
    record: Number(line.record),
    kind: line.kind === 'erase' ? 'erase' : kind,
    before,
    after,
    version: line.version,
  };
}
