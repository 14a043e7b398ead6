import { askOnce } from './primary.ts';

/**
 * Whether a pooler answers at an address: it gives a connection a number of its own, not that of the process which answers.
 * DATABASE_POOLER says it where it cannot be found out: `yes` or `no`.
 */
export async function isPooled(address: string): Promise<boolean> {
  const given = process.env.DATABASE_POOLER;
  if (given === 'yes' || given === 'no') return given === 'yes';
  const { row, processID } = await askOnce<{ pid: number }>(address, 'SELECT pg_backend_pid() AS pid');
  return row !== undefined && row.pid !== processID;
}

/** Connections to a pooler, which may answer each transaction by another process. */
const pooled = new WeakSet<object>();

export const notePooled = (connection: object): unknown => pooled.add(connection);

/** Whether nothing that is said over this connection lasts beyond its transaction: no prepared statement, no setting, no process. */
export const isToPooler = (connection: object): boolean => pooled.has(connection);
