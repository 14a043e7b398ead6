// One statement in a database, for the commands.

/**
 * Runs one statement over a connection of its own. `where` is an address, or the driver’s settings; `values` are bound to `$1`, `$2`, …
 * Gives its rows.
 */
export async function query(where, text, values = []) {
  const { default: pg } = await import('pg');
  const settings = typeof where === 'string' ? { connectionString: where } : where;
  const client = new pg.Client({ ...settings, connectionTimeoutMillis: 5_000 });
  await client.connect();
  try {
    return (await client.query(text, values)).rows;
  } finally {
    await client.end();
  }
}
