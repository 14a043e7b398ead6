import { say } from '@fiche/core/languages';
import pg from 'pg';

/** A server that does not say by then what it is counts as away, in ms. */
const PATIENCE = 1_500;
/** So long, in ms, the server that takes writes is known without being asked again. */
const KNOWN = 1_000;

/** No server of an address takes writes: all are away, or wait to be promoted. Another moment will do. */
export class NoPrimary extends Error {
  readonly code = '57P03';
}

/** One question over a connection of its own, which is closed afterwards. Throws what the driver throws. */
export async function askOnce<Row>(connectionString: string, sql: string): Promise<{ row?: Row; processID: number }> {
  const client = new pg.Client({ connectionString, connectionTimeoutMillis: PATIENCE, query_timeout: PATIENCE });
  // A server that goes while it is asked says so by the question, too.
  client.on('error', () => undefined);
  try {
    await client.connect();
    const { rows } = await client.query(sql);
    return { row: rows[0] as Row, processID: (client as unknown as { processID: number }).processID };
  } finally {
    await client.end().catch(() => undefined);
  }
}

/**
 * Finds the server that takes writes among several with the same database. Of two that say so, the one on the later
 * timeline: after a failover the former primary may come back as it was, and must not be written to.
 */
export class Primary {
  private known: { readonly at: number; readonly index: Promise<number> } | undefined;

  /** `addresses` are the servers’, for a role that may sign in at each. */
  constructor(private readonly addresses: readonly string[]) {}

  /** Which of the addresses it is. Throws NoPrimary. */
  async index(): Promise<number> {
    if (this.addresses.length === 1) return 0;
    if (!this.known || Date.now() - this.known.at > KNOWN) {
      const looking = { at: Date.now(), index: this.look() };
      this.known = looking;
      looking.index.catch(() => this.known === looking && this.forget());
    }
    return this.known.index;
  }

  /** What was known is wrong: it is looked for again. */
  forget(): void {
    this.known = undefined;
  }

  private async look(): Promise<number> {
    const timelines = await Promise.all(
      this.addresses.map((address) =>
        askOnce<{ timeline: string | null }>(
          address,
          'SELECT CASE WHEN NOT pg_is_in_recovery() THEN left(pg_walfile_name(pg_current_wal_insert_lsn()), 8) END AS timeline',
        ).then(
          ({ row }) => row?.timeline ?? null,
          () => null,
        ),
      ),
    );
    const newest = timelines
      .filter((one) => one !== null)
      .sort()
      .at(-1);
    if (newest === undefined)
      throw new NoPrimary(
        say('None of the database servers takes writes just now. Nothing was lost; try again in a moment.'),
      );
    return timelines.indexOf(newest);
  }
}
