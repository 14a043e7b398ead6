import { createHash } from 'node:crypto';
import { noteQuery } from './observe.ts';
import type { Database, Transaction } from './pool.ts';
import { isToPooler } from './pooler.ts';

/** A connection of the driver, as far as this needs it. */
interface Connection {
  query<Row>(config: { name?: string; text: string; values: unknown[] }): Promise<{ rows: Row[] }>;
}

const known = new Map<string, { name: string; text: string }>();
const MOST_KNOWN = 2_000;

/** `?` placeholders as PostgreSQL numbers them, and a name under which a connection keeps the plan. */
function prepared(sql: string): { name: string; text: string } {
  const found = known.get(sql);
  if (found) return found;
  let n = 0;
  const text = sql.replaceAll('?', () => `$${++n}`);
  const made = { name: createHash('sha1').update(text).digest('base64url'), text };
  if (known.size >= MOST_KNOWN) known.clear();
  known.set(sql, made);
  return made;
}

/**
 * Asks one statement of those that every save and every keystroke need. It is planned once per connection: for these,
 * planning costs more than running. Each `?` is a bound value; a statement names its result columns, never `*`, so
 * that a plan stays true when a table gets another column.
 */
export async function ask<Row>(
  database: Database | Transaction,
  sql: string,
  values: readonly unknown[],
): Promise<Row[]> {
  const connection: Connection = await database.client.acquireConnection();
  const begun = performance.now();
  try {
    const { name, text } = prepared(sql);
    // Behind a pooler another process may answer the next time, which has never heard of the name.
    const named = isToPooler(connection) ? {} : { name };
    const { rows } = await connection.query<Row>({ ...named, text, values: [...values] });
    return rows;
  } finally {
    noteQuery(sql, begun);
    await database.client.releaseConnection(connection);
  }
}
