import { type MailedNotice, noticesMail } from '@fiche/core/messages';
import { memberDefinitions } from '../access/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import type { MailSettings } from '../services.ts';
import { NOTICE_COLUMNS, NOTICE_SOURCE, type NoticeRow, visibleNotices } from './notices.ts';
import { putInOutbox } from './outbox.ts';

/** Seconds that a notice waits to be seen in the application before it goes by mail. */
const GRACE = 60;
/** Notices in one mail; what is more comes with the next. */
const MOST = 50;

interface Receiver {
  readonly login: string;
  readonly email: string;
}

/**
 * Writes mails for notices that their receivers want by mail and have not seen, one for each person and cabinet. Returns
 * how many were written. As the owner, for all cabinets; `grace` is in seconds.
 */
export async function mailNotices(owner: Database, mail: MailSettings, grace = GRACE): Promise<number> {
  const { rows } = await owner.raw<{ rows: Receiver[] }>(
    `SELECT a.login, a.email FROM fiche.notice_settings s JOIN fiche.account a ON a.login = s.login
     WHERE a.email IS NOT NULL AND a.closed_at IS NULL AND EXISTS (SELECT FROM fiche.notice n WHERE n.login = s.login AND ${DUE})`,
    [grace],
  );
  let written = 0;
  for (const receiver of rows)
    written += await owner.transaction((transaction) => writeMails(transaction, mail, receiver, grace));
  return written;
}

const DUE =
  'n.seen_at IS NULL AND n.mailed_at IS NULL AND n.kind = ANY(s.mailed) AND n.at <= now() - make_interval(secs => ?)';

async function writeMails(
  owner: Transaction,
  mail: MailSettings,
  { login, email }: Receiver,
  grace: number,
): Promise<number> {
  const { rows } = await owner.raw<{ rows: NoticeRow[] }>(
    `WITH due AS (
       UPDATE fiche.notice SET mailed_at = now() WHERE id IN (
         SELECT n.id FROM fiche.notice n JOIN fiche.notice_settings s ON s.login = n.login
         WHERE n.login = ? AND ${DUE} ORDER BY n.at DESC LIMIT ${MOST} FOR UPDATE OF n SKIP LOCKED) RETURNING id)
     SELECT ${NOTICE_COLUMNS} FROM ${NOTICE_SOURCE} WHERE n.id IN (SELECT id FROM due) ORDER BY n.at DESC, n.id DESC`,
    [login, grace],
  );
  let written = 0;
  for (const cabinet of new Set(rows.map((row) => row.cabinet))) {
    const definitions = await memberDefinitions(owner, cabinet, login);
    if (!definitions) continue;
    const own = rows.filter((row) => row.cabinet === cabinet);
    const notices = await visibleNotices(owner, () => definitions, own);
    if (notices.length === 0) continue;
    const told = notices.map(
      ({ table, record, view, form, ...notice }): MailedNotice => ({
        ...notice,
        table: table?.label ?? null,
        view: view?.label ?? null,
        form: form?.label ?? null,
        address: `${mail.publicUrl}/${cabinet}${form ? `/forms/${form.id}/answers` : table ? `/tables/${table.id}${record === null ? '' : `/${record}`}${view ? `?view=${view.id}` : ''}` : '/home'}`,
      }),
    );
    const about = notices.flatMap(({ table, record }) =>
      table && record !== null ? [{ table: table.id, record }] : [],
    );
    const label = definitions.cabinets.get(cabinet)?.label ?? cabinet;
    await putInOutbox(owner, mail, {
      ...noticesMail(label, told, `${mail.publicUrl}/${cabinet}/account`),
      cabinet,
      kind: 'notices',
      login,
      address: email,
      about,
    });
    written += 1;
  }
  return written;
}
