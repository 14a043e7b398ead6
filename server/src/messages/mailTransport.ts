import { createTransport } from 'nodemailer';
import type { MailServer } from '../services.ts';

/** A mail as it goes to the mail server. */
export interface OutgoingMail {
  /** The same for each try, so that a receiver knows a mail that comes twice. */
  readonly id: string;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
}

/** A connection to a mail server: `send` throws `DeliveryError`. */
export interface MailTransport {
  send(mail: OutgoingMail): Promise<void>;
  close(): void;
}

/** Why a mail was not sent. `final` where another try would end the same. */
export class DeliveryError extends Error {
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
export function smtpTransport({ url, from }: MailServer): MailTransport {
  const mailer = createTransport(
    { url, connectionTimeout: PATIENCE, greetingTimeout: PATIENCE, socketTimeout: PATIENCE },
    { from, disableFileAccess: true, disableUrlAccess: true },
  );
  const host = from.replace(/^.*@/, '').replace(/>$/, '');
  return {
    async send({ id, to, subject, text }) {
      try {
        await mailer.sendMail({
          messageId: `<${id}@${host}>`,
          to: { name: '', address: to },
          subject,
          text,
          headers: { 'Auto-Submitted': 'auto-generated' },
        });
      } catch (error) {
        throw deliveryError(error as Failure);
      }
    },
    close: () => mailer.close(),
  };
}

/** What the mail library says of a failure: its code, and the answer of the mail server if there was one. */
interface Failure extends Error {
  readonly code?: string;
  readonly response?: string;
  readonly responseCode?: number;
}

/** A failure in words. A reply of 500 and above is final (RFC 5321, 4.2.1), but for those to a sign-in. */
function deliveryError({ code, response, responseCode, message }: Failure): DeliveryError {
  const answer = response ? `: ${response.slice(0, 300)}` : '';
  if (code === 'EAUTH' || code === 'ENOAUTH')
    return new DeliveryError(`The mail server did not accept the name and password in SMTP_URL${answer}`, false);
  if (code === 'EENVELOPE')
    return new DeliveryError(`The mail server refused the address${answer}`, isFinal(responseCode));
  if (responseCode !== undefined)
    return new DeliveryError(`The mail server refused the message${answer}`, isFinal(responseCode));
  if (code === 'ETLS') return new DeliveryError('The connection to the mail server could not be encrypted', false);
  return new DeliveryError(`The mail server cannot be reached: ${message.slice(0, 300)}`, false);
}

const isFinal = (responseCode: number | undefined): boolean => (responseCode ?? 0) >= 500;
