import type { PasswordLink } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { showMoment } from '../parts/index.ts';
import { ShownOnce } from './ShownOnce.tsx';

/** A one-time link that was just made: it is shown this once, to be copied and sent. */
export const PasswordLinkNote = ({ link, invited }: { link: PasswordLink; invited: boolean }) => (
  <ShownOnce
    label={say('One-time link')}
    value={`${window.location.origin}/password#${link.token}`}
    words={say('{invited} {link} this link: it sets the password once and expires {expires}. It is not shown again.', {
      invited: invited
        ? say('{login} is invited.', { login: link.login })
        : say('A new link is made; earlier ones no longer work.'),
      link: mailWords(link),
      expires: showMoment(link.expires),
    })}
    submit={say('Copy link')}
  />
);

/** Whether the link goes by mail as well, up to the words before “this link”. */
function mailWords({ email, mailed }: PasswordLink): string {
  if (email === '') return say('Send');
  return mailed
    ? say('A mail to {email} is on its way, with', { email })
    : say('A message to {email} is in the outbox, but no mail server is set up. So send', { email });
}
