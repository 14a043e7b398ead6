import type { PasswordLink } from '@fiche/core/api';
import { showMoment } from '../parts/index.ts';
import { ShownOnce } from './ShownOnce.tsx';

/** A one-time link that was just made: it is shown this once, to be copied and sent. */
export const PasswordLinkNote = ({ link, invited }: { link: PasswordLink; invited: boolean }) => (
  <ShownOnce
    label="One-time link"
    value={`${window.location.origin}/password#${link.token}`}
    words={`${invited ? `${link.login} is invited.` : 'A new link is made; earlier ones no longer work.'} ${mailWords(link)} this link: it sets the password once and expires ${showMoment(link.expires)}. It is not shown again.`}
    submit="Copy link"
  />
);

/** Whether the link goes by mail as well, up to the words before “this link”. */
function mailWords({ email, mailed }: PasswordLink): string {
  if (email === '') return 'Send';
  return mailed
    ? `A mail to ${email} is on its way, with`
    : `A message to ${email} is in the outbox, but no mail server is set up. So send`;
}
