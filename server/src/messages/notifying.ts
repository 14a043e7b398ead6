import type { IdOfForm, RecordId, TableId } from '@fiche/core/tables';
import { ask, type Database, type Transaction } from '../database/index.ts';
import { announcePeople } from '../events/index.ts';

interface Place {
  readonly cabinet: string;
  readonly table: TableId;
  readonly record: RecordId;
}

/** Tells each of these people that a record names them now: in their inbox, and on the pages that they have open. */
export async function notifyAssigned(
  database: Database | Transaction,
  by: string,
  logins: readonly string[],
  about: Place,
): Promise<void> {
  await ask(
    database,
    `INSERT INTO fiche.notice (login, cabinet, kind, by, table_id, record)
     SELECT a.login, ?, 'assigned', ?, ?, ?::bigint FROM fiche.account a WHERE a.login = ANY(?::text[]) ORDER BY a.login
     ON CONFLICT (login, kind, table_id, record) WHERE seen_at IS NULL AND record IS NOT NULL
     DO UPDATE SET at = excluded.at, by = excluded.by, mailed_at = NULL`,
    [about.cabinet, by, about.table, about.record, logins],
  );
  await announcePeople(database, by, logins, { kind: 'assigned', about });
}

/** Tells people that an import assigned so many records of a table to them. */
export async function notifyImported(
  transaction: Transaction,
  by: string,
  cabinet: string,
  table: TableId,
  counts: ReadonlyMap<string, number>,
): Promise<void> {
  const told = [...counts].filter(([login, count]) => login !== by && count > 0);
  if (told.length === 0) return;
  await ask(
    transaction,
    `INSERT INTO fiche.notice (login, cabinet, kind, by, table_id, times)
     SELECT a.login, ?, 'assigned', ?, ?, told.times FROM unnest(?::text[], ?::int[]) AS told(login, times)
     JOIN fiche.account a ON a.login = told.login`,
    [cabinet, by, table, told.map(([login]) => login), told.map(([, times]) => times)],
  );
  await announcePeople(
    transaction,
    by,
    told.map(([login]) => login),
    { kind: 'changed' },
  );
}

/** Tells those who watch a record that its lines were changed; a change of the record itself the database tells. */
export const notifyWatchers = (transaction: Transaction, table: TableId, record: RecordId): Promise<unknown> =>
  transaction.raw('SELECT fiche.notify_watchers(?, ARRAY[?::bigint])', [table, record]);

/** Seconds that work in the background has lasted at least, for its end to be told. */
const LONG_SECONDS = 10;

/** Tells who began a task that it has ended, where they have waited for long; a program is not told. */
export async function notifyTaskEnded(owner: Database, task: number, least = LONG_SECONDS): Promise<void> {
  const { rows } = await owner.raw<{ rows: { login: string }[] }>(
    `INSERT INTO fiche.notice (login, cabinet, kind, by, task)
     SELECT a.login, t.cabinet, 'task', a.login, t.id FROM fiche.task t JOIN fiche.account a ON a.login = t.account
     WHERE t.id = ? AND t.at < now() - make_interval(secs => ?) RETURNING login`,
    [task, least],
  );
  if (rows[0]) await announcePeople(owner, rows[0].login, [rows[0].login], { kind: 'changed' });
}

/** Tells those who watch a form that an answer has come to its public page; several that are not seen yet are counted. */
export async function notifyAnswered(
  transaction: Transaction,
  by: string,
  about: { readonly cabinet: string; readonly table: TableId; readonly form: IdOfForm },
): Promise<void> {
  const rows = await ask<{ login: string }>(
    transaction,
    `INSERT INTO fiche.notice (login, cabinet, kind, by, table_id, form_id)
     SELECT w.login, ?, 'answers', ?, ?, w.form_id FROM fiche.form_watch w WHERE w.form_id = ? ORDER BY w.login
     ON CONFLICT (login, form_id) WHERE seen_at IS NULL AND form_id IS NOT NULL
     DO UPDATE SET at = excluded.at, by = excluded.by, times = fiche.notice.times + 1, mailed_at = NULL RETURNING login`,
    [about.cabinet, by, about.table, about.form],
  );
  if (rows.length === 0) return;
  await announcePeople(
    transaction,
    by,
    rows.map(({ login }) => login),
    { kind: 'changed' },
  );
}
