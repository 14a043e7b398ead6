import type { FormEvent, ReactNode } from 'react';

export interface InlineFormProps {
  readonly label: string;
  /** What the button says, as what will happen. */
  readonly submit: string;
  /** Why the last try was refused. */
  readonly trouble: string;
  readonly children: ReactNode;
  onSubmit(): Promise<void>;
}

/** A short form in one line: its inputs, what it does, and why that was refused. */
export function InlineForm({ label, submit, trouble, children, onSubmit }: InlineFormProps) {
  const send = (event: FormEvent): void => {
    event.preventDefault();
    void onSubmit();
  };
  return (
    <form className="inline-form" aria-label={label} onSubmit={send}>
      {children}
      <button type="submit" className="button">
        {submit}
      </button>
      {trouble && (
        <span className="ruled-problem" role="alert">
          {trouble}
        </span>
      )}
    </form>
  );
}
