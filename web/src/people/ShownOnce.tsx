import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useRef } from 'react';
import { settingsCss, textCss, useNotify } from '../parts/index.ts';

interface ShownOnceProps {
  readonly label: string;
  readonly value: string;
  /** What it is for, and that it is shown once. */
  readonly words: string;
  readonly submit: string;
}

/** A secret that is shown this once, to be copied. */
export function ShownOnce({ label, value, words, submit }: ShownOnceProps) {
  const notify = useNotify();
  const input = useRef<HTMLInputElement>(null);
  const copy = async (): Promise<void> => {
    input.current?.select();
    try {
      await navigator.clipboard.writeText(value);
      notify(say('Copied.'));
    } catch {
      // Browsers give the clipboard to secure pages only.
      notify(say('It is selected: copy it with Ctrl+C.'));
    }
  };
  return (
    <section className={settingsCss.form} aria-label={say('Shown once')}>
      <p role="status">{words}</p>
      <TextField
        label={label}
        value={value}
        inputRef={input}
        slotProps={{ htmlInput: { readOnly: true, className: textCss.mono } }}
        onFocus={(event) => event.target.select()}
      />
      <div className={settingsCss.acts}>
        <Button variant="contained" autoFocus onClick={() => void copy()}>
          {submit}
        </Button>
      </div>
    </section>
  );
}
