/** Seconds after which a client that met a busy server may try again. */
const RETRY_AFTER = 5;

/** Codes of errors that say that the database is busy, starting or gone, not that something is wrong. */
const BUSY = new Set([
  // PostgreSQL: cancelled by a timeout, too many connections, shutting down, starting, idle for too long.
  '57014',
  '53300',
  '57P01',
  '57P02',
  '57P03',
  '25P03',
  // Not the server that takes writes any more.
  '25006',
  // The socket to it.
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
]);

/** When to try again after an error that another moment would correct; undefined for any other error. */
export function retryAfter(error: {
  readonly code?: string;
  readonly name?: string;
  readonly message: string;
}): number | undefined {
  const gone =
    /Connection terminated|Client has encountered a connection error|timeout exceeded when trying to connect/;
  return error.name === 'KnexTimeoutError' || BUSY.has(error.code ?? '') || gone.test(error.message)
    ? RETRY_AFTER
    : undefined;
}
