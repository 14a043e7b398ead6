import type { Database } from '../database/index.ts';

/** Figures of the whole office, for monitoring and for the page that shows them. */
export interface OfficeFigures {
  /** Of the database, in bytes, indexes included. */
  readonly bytes: number;
  /** Of PostgreSQL, such as `15.19`. */
  readonly version: string;
  /** When the newest seal was made, ISO 8601; null before the first. */
  readonly sealed_at: string | null;
  readonly seals: number;
  /** Lines that no seal covers yet. */
  readonly unsealed: number;
  readonly tasks_open: number;
  /** In the last week, as for messages. */
  readonly tasks_failed: number;
  readonly messages_waiting: number;
  readonly messages_failed: number;
  /** When the last backup that ended well did, ISO 8601; null where none has. */
  readonly backed_up_at: string | null;
}

export async function officeFigures(app: Database): Promise<OfficeFigures> {
  const { rows } = await app.raw<{ rows: [OfficeFigures] }>(
    `SELECT pg_database_size(current_database())::float8 AS bytes, split_part(current_setting('server_version'), ' ', 1) AS version,
       s.at AS sealed_at, coalesce(s.number, 0) AS seals,
       (SELECT count(*) FROM ledger.line l WHERE l.transaction >= coalesce(s.to_transaction, 0)) AS unsealed,
       (SELECT count(*) FROM fiche.task WHERE state IN ('waiting', 'running')) AS tasks_open,
       (SELECT count(*) FROM fiche.task WHERE state = 'failed' AND at > now() - interval '7 days') AS tasks_failed,
       (SELECT count(*) FROM fiche.message WHERE state = 'waiting') AS messages_waiting,
       (SELECT count(*) FROM fiche.message WHERE state = 'failed' AND at > now() - interval '7 days') AS messages_failed,
       (SELECT max(ended_at) FROM fiche.backup WHERE state = 'done') AS backed_up_at
     FROM (SELECT max(number) AS newest FROM ledger.seal) n LEFT JOIN ledger.seal s ON s.number = n.newest`,
  );
  return rows[0];
}
