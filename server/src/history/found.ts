import { hash } from 'node:crypto';
import type { LedgerVerdict } from '@fiche/core/api';
import type { Transaction } from '../database/index.ts';

/** One thing that does not fit: a line, a seal, a record, or a part of the structure. */
export type Found = LedgerVerdict['misfits'][number];

export const sha256 = (text: string): string => hash('sha256', text);

const BATCH = 1_000;

/** The rows of a query one by one; see `batchesOf`. */
export async function* streamOf<T>(...query: Parameters<typeof batchesOf>): AsyncGenerator<T> {
  for await (const rows of batchesOf<T>(...query)) yield* rows;
}

/** The rows of a query, `batch` at a time through a cursor, so that memory stays flat. */
export async function* batchesOf<T>(
  transaction: Transaction,
  cursor: string,
  sql: string,
  values: readonly string[] = [],
  batch = BATCH,
): AsyncGenerator<T[]> {
  await transaction.raw(`DECLARE ${cursor} NO SCROLL CURSOR FOR ${sql}`, [...values]);
  const fetch = (): Promise<T[]> =>
    transaction.raw<{ rows: T[] }>(`FETCH ${batch} FROM ${cursor}`).then(({ rows }) => rows);
  // The database reads the next rows while these are looked at.
  let next: Promise<T[]> | undefined = fetch();
  try {
    while (next) {
      const rows: T[] = await next;
      next = rows.length < batch ? undefined : fetch();
      // Awaited with the next round; until then nobody else may call a failure unheard.
      next?.catch(() => undefined);
      yield rows;
    }
  } finally {
    await next?.catch(() => undefined);
    await transaction.raw(`CLOSE ${cursor}`).catch(() => undefined);
  }
}
