import { createTransport } from 'nodemailer';
import type { MailServer } from '../services.ts';

/** A mail as it goes to the mail server. */
export interface Letter {
  /** The same for each try, so that a receiver knows a letter that comes twice. */
  readonly id: string;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
}

/** The way to a mail server: `send` throws `NotSent`. */
export interface Post {
  send(letter: Letter): Promise<void>;
  close(): void;
}

/** Why a letter was not sent. `final` where another try would end the same. */
export class NotSent extends Error {
  constructor(
    message: string,
    readonly final: boolean,
  ) {
    super(message);
  }
}

/** How long one step of a conversation with the mail server may take, in milliseconds. */
const PATIENCE = 20_000;

/** Sends by SMTP (RFC 5321). */
export function postBy({ url, from }: MailServer): Post {
  const transport = createTransport(
    { url, connectionTimeout: PATIENCE, greetingTimeout: PATIENCE, socketTimeout: PATIENCE },
    { from, disableFileAccess: true, disableUrlAccess: true },
  );
  const host = from.replace(/^.*@/, '').replace(/>$/, '');
  return {
    async send({ id, to, subject, text }) {
      try {
        await transport.sendMail({
          messageId: `<${id}@${host}>`,
          to: { name: '', address: to },
          subject,
          text,
          headers: { 'Auto-Submitted': 'auto-generated' },
        });
      } catch (error) {
        throw notSent(error as Failure);
      }
    },
    close: () => transport.close(),
  };
}

/** What the mail library says of a failure: its code, and the answer of the mail server if there was one. */
interface Failure extends Error {
  readonly code?: string;
  readonly response?: string;
  readonly responseCode?: number;
}

/** A failure in words. A reply of 500 and above is final (RFC 5321, 4.2.1), but for those to a sign-in. */
function notSent({ code, response, responseCode, message }: Failure): NotSent {
  const answer = response ? `: ${response.slice(0, 300)}` : '';
  if (code === 'EAUTH' || code === 'ENOAUTH')
    return new NotSent(`The mail server did not accept the name and password in SMTP_URL${answer}`, false);
  if (code === 'EENVELOPE') return new NotSent(`The mail server refused the address${answer}`, isFinal(responseCode));
  if (responseCode !== undefined)
    return new NotSent(`The mail server refused the message${answer}`, isFinal(responseCode));
  if (code === 'ETLS') return new NotSent('The connection to the mail server could not be encrypted', false);
  return new NotSent(`The mail server cannot be reached: ${message.slice(0, 300)}`, false);
}

const isFinal = (responseCode: number | undefined): boolean => (responseCode ?? 0) >= 500;
