import type { Database } from '../database/index.ts';
import type { MailSettings } from '../services.ts';
import { type MailTransport, smtpTransport } from './mailTransport.ts';
import { mailNotices } from './noticeMail.ts';
import { sendDue } from './sending.ts';
import { notifyViewWatchers } from './viewWatching.ts';

/** How often the outbox is looked through, in milliseconds. */
const EVERY = 5_000;
const DAYS_KEPT = { notices: 90, messages: 365 } as const;

/**
 * Tells of changes in views that people watch, writes the mails that they want of their notices and sends what waits in the outbox, now and then, until the
 * returned function is called, which waits for what is under way. A failure of the database is told and tried again.
 */
export function startMailer(
  owner: Database,
  mail: MailSettings,
  onTrouble: (error: Error) => void,
): () => Promise<void> {
  const transport: MailTransport | undefined = mail.server ? smtpTransport(mail.server) : undefined;
  let stopping = false;
  let timer: NodeJS.Timeout | undefined;
  const once = async (): Promise<void> => {
    await notifyViewWatchers(owner);
    await mailNotices(owner, mail);
    while (transport && !stopping && (await sendDue(owner, transport)) > 0);
  };
  let running = Promise.resolve();
  const turn = (): void => {
    running = once()
      .catch(onTrouble)
      .finally(() => {
        if (!stopping) timer = setTimeout(turn, EVERY);
      });
  };
  turn();
  return async () => {
    stopping = true;
    clearTimeout(timer);
    await running;
    transport?.close();
  };
}

/** Removes old notices and messages. As the owner. */
export async function forgetMessages(owner: Database): Promise<void> {
  await owner.raw(`DELETE FROM fiche.notice WHERE at < now() - interval '${DAYS_KEPT.notices} days'`);
  await owner.raw(
    `DELETE FROM fiche.message WHERE at < now() - interval '${DAYS_KEPT.messages} days' AND state <> 'waiting'`,
  );
}
