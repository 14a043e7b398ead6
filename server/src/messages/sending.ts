import { withLink } from '@fiche/core/messages';
import type { Database } from '../database/index.ts';
import { DeliveryError, type MailTransport } from './mailTransport.ts';

/** Minutes from one try to the next; after the last one a message is given up: almost two days after it was written. */
export const RETRY_DELAYS = [1, 5, 15, 60, 4 * 60, 12 * 60, 24 * 60] as const;
/** How many messages are taken up at once, and for how long nobody else takes them up, in minutes. */
const AT_ONCE = 10;
const HELD = 15;
const NO_ADDRESS = 'The account has no e-mail address. Add one on the page of people, then send it again.';

interface Due {
  readonly id: number;
  readonly address: string;
  readonly subject: string;
  readonly body: string;
  readonly secret: string | null;
  readonly tries: number;
}

/**
 * Sends what waits in the outbox and is due; several servers share it. Returns how many were tried. A message that fails
 * waits longer each time; one that is given up says why. A message to an account goes to the address that it has then. As the
 * owner.
 */
export async function sendDue(owner: Database, transport: MailTransport): Promise<number> {
  const { rows } = await owner.raw<{ rows: Due[] }>(
    `UPDATE fiche.message m SET tries = tries + 1, next_at = now() + make_interval(mins => ${HELD}),
       address = CASE WHEN address = '' THEN coalesce((SELECT a.email FROM fiche.account a WHERE a.login = m.login AND a.closed_at IS NULL), '') ELSE address END
     WHERE id IN (
       SELECT id FROM fiche.message WHERE state = 'waiting' AND next_at <= now() ORDER BY next_at LIMIT ${AT_ONCE} FOR UPDATE SKIP LOCKED)
     RETURNING id, address, subject, body, secret, tries`,
  );
  for (const { id, address, subject, body, secret, tries } of rows)
    try {
      if (address === '') throw new DeliveryError(NO_ADDRESS, true);
      await transport.send({
        id: `message-${id}`,
        to: address,
        subject,
        text: secret === null ? body : withLink(body, secret),
      });
      await owner.raw(
        `UPDATE fiche.message SET state = 'sent', sent_at = now(), secret = NULL, problem = NULL WHERE id = ?`,
        [id],
      );
    } catch (error) {
      if (!(error instanceof DeliveryError)) throw error;
      const pause = error.final ? undefined : RETRY_DELAYS[tries - 1];
      await owner.raw(
        pause === undefined
          ? `UPDATE fiche.message SET state = 'failed', secret = NULL, problem = ? WHERE id = ? AND state = 'waiting'`
          : `UPDATE fiche.message SET next_at = now() + make_interval(mins => ${pause}), problem = ? WHERE id = ?`,
        [error.message, id],
      );
    }
  return rows.length;
}
