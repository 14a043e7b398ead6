import type { MessageView, Outbox } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { LINK_PLACEHOLDER, type Mail, withLink } from '@fiche/core/messages';
import type { RecordId, TableId } from '@fiche/core/tables';
import { ask, type Database, type Transaction } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import type { MailSettings } from '../services.ts';

const PAGE = 50;
/** Messages with a one-time link, which only their receiver gets. */
const HAVE_SECRETS: readonly string[] = ['invitation', 'reset'];

interface NewMessage extends Mail {
  readonly cabinet: string;
  readonly kind: MessageView['kind'];
  /** The account that it is for; null for somebody outside. */
  readonly login: string | null;
  readonly address: string;
  /** The records that it speaks of. */
  readonly about?: readonly { readonly table: TableId; readonly record: RecordId }[];
  /** A one-time link that stands for `{link}` in the body. */
  readonly secret?: string;
}

/**
 * Puts a message into the outbox. With a mail server it is sent from there; without one it is only kept, and a link in it
 * is not. As the owner, in the transaction of what it tells.
 */
export const putInOutbox = (
  owner: Transaction,
  { server }: MailSettings,
  { cabinet, kind, login, address, subject, body, about = [], secret }: NewMessage,
): Promise<unknown> =>
  owner.raw(
    `INSERT INTO fiche.message (cabinet, kind, login, address, subject, body, about, secret, state)
     VALUES (?, ?, ?, ?, ?, ?, ?::jsonb, ?, ?)`,
    [
      cabinet,
      kind,
      login,
      address,
      subject,
      body,
      JSON.stringify(about),
      server ? (secret ?? null) : null,
      server ? 'waiting' : 'kept',
    ] as string[],
  );

/** Takes back messages with a one-time link of an account that are not sent yet: another link has taken its place. As the owner. */
export const withdrawLinks = (owner: Transaction, login: string): Promise<unknown> =>
  owner.raw(
    `UPDATE fiche.message SET state = 'failed', secret = NULL, problem = 'Not sent: a newer link was made, or the account was closed.'
     WHERE login = ? AND state = 'waiting' AND secret IS NOT NULL`,
    [login],
  );

/** A page of a cabinet’s outbox, newest first. Words about records are for roles that see all of them. */
export async function readOutbox(
  app: Database,
  { tables, seen }: Definitions,
  cabinet: string,
  { before, state }: { before?: number | undefined; state?: MessageView['state'] | undefined },
): Promise<Omit<Outbox, 'sends'>> {
  const where = [
    'cabinet = ?',
    ...(before === undefined ? [] : ['id < ?']),
    ...(state === undefined ? [] : ['state = ?']),
  ];
  const rows = await ask<MessageView & { subject: string; body: string }>(
    app,
    `SELECT id, at, kind, login, address, subject, body, state, tries, CASE WHEN state = 'waiting' THEN next_at END AS "nextAt", sent_at AS "sentAt", problem
     FROM fiche.message WHERE ${where.join(' AND ')}
     ORDER BY id DESC LIMIT ${PAGE + 1}`,
    [cabinet, before, state].filter((value) => value !== undefined),
  );
  const whole = tables === seen?.whole.tables;
  const page = rows.slice(0, PAGE);
  return {
    messages: page.map((row) => {
      if (HAVE_SECRETS.includes(row.kind)) return { ...row, body: withLink(row.body, LINK_PLACEHOLDER) };
      return whole ? row : { ...row, subject: null, body: null };
    }),
    before: rows.length > PAGE ? (page.at(-1)?.id ?? null) : null,
  };
}

/** Sends a message again that failed or was kept. As the owner. Throws 404, and 409 where it cannot be sent. */
export async function retryMessage(
  owner: Database,
  { server }: MailSettings,
  cabinet: string,
  message: number,
): Promise<void> {
  const row = Number.isSafeInteger(message)
    ? await owner('fiche.message').where({ id: message, cabinet }).first('state', 'kind', 'body')
    : undefined;
  if (!row) throw notFound(say('This message'));
  if (!server)
    throw new Refusal(
      409,
      say(
        'No mail server is set up, so nothing can be sent. Whoever runs the server sets SMTP_URL, MAIL_FROM and PUBLIC_URL.',
      ),
    );
  if (HAVE_SECRETS.includes(row.kind))
    throw new Refusal(409, say('Its one-time link is not kept. Make a new link for the person; it is sent with it.'));
  if (row.state === 'waiting' || row.state === 'sent')
    throw new Refusal(
      409,
      row.state === 'sent' ? say('This message was sent.') : say('This message is waiting to be sent already.'),
    );
  await owner.raw(
    `UPDATE fiche.message SET state = 'waiting', tries = 0, next_at = now(), problem = NULL WHERE id = ? AND state IN ('failed', 'kept')`,
    [message],
  );
}
