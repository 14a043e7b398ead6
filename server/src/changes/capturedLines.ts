import type { TableId } from '@fiche/core/tables';
import { ask, type Database } from '../database/index.ts';
import type { SavedPart } from './plans.ts';

/** Records that are read, decided and staged at a time. */
export const BATCH = 500;

/** What one transaction made of a record. */
export interface CapturedLine {
  readonly id: number;
  readonly record: string;
  readonly before: Readonly<Record<string, unknown>> | null;
  readonly after: Readonly<Record<string, unknown>> | null;
  readonly added: boolean;
  /** The version that it left. */
  readonly version: number;
}

/** The lines of a transaction, batch by batch, and how many they are. */
export interface CapturedLines {
  total(): Promise<number>;
  batches(): AsyncGenerator<readonly CapturedLine[]>;
}

/** The lines that one transaction wrote of a table: all, or those of what it added, or of what it changed that was there before. */
export function linesOf(
  app: Database,
  table: TableId,
  { transaction, at, part }: Omit<SavedPart, 'part'> & Partial<SavedPart>,
): CapturedLines {
  const same = 'm.place = l.place AND m.record = l.record AND m.at = l.at AND m.transaction = l.transaction';
  const those =
    part === undefined
      ? 'TRUE'
      : part === 'added'
        ? "l.kind = 'add'"
        : `l.kind = 'change' AND NOT EXISTS (SELECT FROM ledger.line m WHERE ${same} AND m.kind = 'add')`;
  const then =
    at === undefined ? '' : "AND l.at >= ?::timestamptz AND l.at < ?::timestamptz + interval '1 millisecond'";
  const where = `l.transaction = ? AND l.place = ? ${then} AND ${those}`;
  const values = [transaction, `data.${table}`, ...(at === undefined ? [] : [at, at])];
  return {
    async total() {
      const [row] = await ask<{ n: number }>(app, `SELECT count(*) AS n FROM ledger.line l WHERE ${where}`, values);
      return Number(row?.n);
    },
    async *batches() {
      for (let after = 0; ; ) {
        const rows = await ask<CapturedLine>(
          app,
          `SELECT l.id, l.record, l.before, l.after, l.kind = 'add' AS added, (SELECT max(m.version) FROM ledger.line m WHERE ${same}) AS version
           FROM ledger.line l WHERE ${where} AND l.id > ? ORDER BY l.id LIMIT ?`,
          [...values, after, BATCH],
        );
        if (rows.length === 0) return;
        after = Number(rows.at(-1)?.id);
        yield rows;
      }
    },
  };
}
