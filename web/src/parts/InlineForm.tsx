import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import type { ReactNode, SyntheticEvent } from 'react';
import inlineFormCss from './inlineForm.module.css';
import textCss from './text.module.css';

interface InlineFormProps {
  readonly label: string;
  /** What the button says, as what will happen. */
  readonly submit: string;
  /** Why the last try was refused. */
  readonly trouble: string;
  /** For what cannot be undone: told apart by more than its words. */
  readonly stop?: boolean;
  readonly disabled?: boolean;
  /** What stands after the button: a way back. */
  readonly after?: ReactNode;
  readonly children: ReactNode;
  onSubmit(): Promise<void>;
}

/** A short form in one line: its inputs, what it does, and why that was refused. */
export function InlineForm({ label, submit, trouble, stop, disabled, after, children, onSubmit }: InlineFormProps) {
  const send = (event: SyntheticEvent): void => {
    event.preventDefault();
    void onSubmit();
  };
  return (
    <form className={clsx(inlineFormCss.form, stop && inlineFormCss.erase)} aria-label={label} onSubmit={send}>
      {children}
      <Button type="submit" color={stop ? 'error' : 'primary'} disabled={disabled}>
        {submit}
      </Button>
      {after}
      {trouble && (
        <span className={textCss.problem} role="alert">
          {trouble}
        </span>
      )}
    </form>
  );
}
