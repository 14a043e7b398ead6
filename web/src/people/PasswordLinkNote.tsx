import type { PasswordLink } from '@fiche/core/api';
import { showMoment } from '../parts/index.ts';
import { CopiedOnce } from './CopiedOnce.tsx';

/** A one-time link that was just made: it is shown this once, to be copied and sent. */
export const PasswordLinkNote = ({ link, invited }: { link: PasswordLink; invited: boolean }) => (
  <CopiedOnce
    label="One-time link"
    value={`${window.location.origin}/password#${link.token}`}
    words={`${invited ? `${link.login} is invited.` : 'A new link is made; earlier ones are worth nothing now.'} Send this link: it sets the password once, until ${showMoment(link.expires)}. It is not shown again.`}
    submit="Copy link"
  />
);
