import { say } from '../languages/index.ts';
import { NOTICE_LABELS, type NoticeContent, type NoticeKind, noticeLine } from './notice.ts';

/** A message as it is kept and sent: plain text. */
export interface Mail {
  readonly subject: string;
  readonly body: string;
}

/** Where a one-time link stands in the text of a message; the outbox shows the text without the link. */
export const LINK = '{link}';
/** What stands there for whoever reads the outbox. */
export const LINK_PLACEHOLDER = '[one-time link: only its receiver gets it]';

/** Puts a link into the text of a message. */
export const withLink = (body: string, link: string): string => body.replaceAll(LINK, () => link);

const signed = (lines: readonly string[]): string => `${lines.join('\n\n')}\n`;

/** Invites somebody to set the first password of an account. `expires` is a moment in words. */
export const invitationMail = (one: {
  readonly displayName: string;
  readonly login: string;
  readonly by: string;
  readonly cabinet: string;
  readonly expires: string;
}): Mail => ({
  subject: `Your account for ${one.cabinet}`,
  body: signed([
    `Hello ${one.displayName},`,
    `${one.by} has made an account for you in ${one.cabinet}. Your login is ${one.login}.`,
    `Open this address to set your password. It works once, until ${one.expires}:`,
    LINK,
    'If you do not know what this is about, ignore this message.',
  ]),
});

/** Lets somebody set a new password. `expires` is a moment in words. */
export const resetMail = (one: {
  readonly displayName: string;
  readonly login: string;
  readonly by: string;
  readonly expires: string;
}): Mail => ({
  subject: 'A new password for your account',
  body: signed([
    `Hello ${one.displayName},`,
    `${one.by} has made a link with which you set a new password for your account ${one.login}. It works once, until ${one.expires}:`,
    LINK,
    'Your present password works until then. If you did not ask for this, tell the people who manage accounts.',
  ]),
});

/** A notice with the address of what it is about. */
export interface MailedNotice extends NoticeContent {
  readonly address: string;
}

/**
 * Tells somebody of what has happened in a cabinet, `notices` with the newest first. Throws where there are none.
 * `account` is the address of the page on which they choose what comes by mail.
 */
export function noticesMail(cabinet: string, notices: readonly MailedNotice[], account: string): Mail {
  const [first, ...others] = notices;
  if (!first) throw new Error('A mail without notices');
  const kinds = [...new Set(notices.map((one) => one.kind))].map((kind: NoticeKind) => say(NOTICE_LABELS[kind]));
  return {
    subject: others.length === 0 ? noticeLine(first) : `${notices.length} notices from ${cabinet}`,
    body: signed([
      ...notices.map((one) => `${noticeLine(one)}\n${one.address}`),
      `You get this because you chose “${kinds.join('”, “')}” in ${cabinet}. Change that here:\n${account}`,
    ]),
  };
}
