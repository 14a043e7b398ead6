import Button from '@mui/material/Button';
import { type InputHTMLAttributes, type Ref, useRef } from 'react';

/** The system’s choice of files, opened by whatever button has its ref. */
export function HiddenFileInput({
  inputRef,
  ...input
}: InputHTMLAttributes<HTMLInputElement> & { inputRef: Ref<HTMLInputElement> }) {
  return <input ref={inputRef} type="file" hidden {...input} />;
}

/** A button that opens the system’s choice of one file. */
export function FileButton({
  label,
  accept,
  variant,
  disabled,
  onChoose,
}: {
  label: string;
  /** File name endings, as in the `accept` attribute of HTML. */
  accept: string;
  variant?: 'text' | 'outlined' | 'contained';
  disabled?: boolean;
  onChoose(file: File): void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button variant={variant} disabled={disabled} onClick={() => input.current?.click()}>
        {label}
      </Button>
      <HiddenFileInput
        inputRef={input}
        aria-label={label}
        accept={accept}
        disabled={disabled}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) onChoose(file);
          // The same file can be chosen again.
          event.target.value = '';
        }}
      />
    </>
  );
}
