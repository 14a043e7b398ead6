import type { PasswordLink } from '@fiche/core/api';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useRef } from 'react';
import { settingsCss, showMoment, textCss, useNotify } from '../parts/index.ts';

/** A one-time link that was just made: it is shown this once, to be copied and sent. */
export function PasswordLinkNote({ link, invited }: { link: PasswordLink; invited: boolean }) {
  const notify = useNotify();
  const input = useRef<HTMLInputElement>(null);
  const address = `${window.location.origin}/password#${link.token}`;
  const copy = async (): Promise<void> => {
    input.current?.select();
    try {
      await navigator.clipboard.writeText(address);
      notify('The link is copied.');
    } catch {
      // Browsers give the clipboard to secure pages only.
      notify('The link is selected: copy it with Ctrl+C.');
    }
  };
  return (
    <section className={settingsCss.form} aria-label="Link to send">
      <p role="status">
        {invited ? `${link.login} is invited.` : 'A new link is made; earlier ones are worth nothing now.'} Send this
        link: it sets the password once, until {showMoment(link.expires)}. It is not shown again.
      </p>
      <TextField
        label="One-time link"
        value={address}
        inputRef={input}
        slotProps={{ htmlInput: { readOnly: true, className: textCss.mono } }}
        onFocus={(event) => event.target.select()}
      />
      <div className={settingsCss.acts}>
        <Button variant="contained" autoFocus onClick={() => void copy()}>
          Copy link
        </Button>
      </div>
    </section>
  );
}
