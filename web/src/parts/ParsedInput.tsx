import type { Parsed } from '@fiche/core/fields';
import TextField from '@mui/material/TextField';
import { useState } from 'react';

interface ParsedInputProps {
  readonly label: string;
  /** The value as the office writes it. */
  readonly shown: string;
  readonly className?: string;
  parse(typed: string): Parsed;
  onSet(value: string): void;
}

/** A day or a moment as the office writes it, taken when it is left or Enter is pressed; what cannot be read says so. */
export function ParsedInput({ label, shown, className, parse, onSet }: ParsedInputProps) {
  const [typed, setTyped] = useState(shown);
  const [known, setKnown] = useState(shown);
  // Another value from outside takes the place of what was typed.
  if (known !== shown) {
    setKnown(shown);
    setTyped(shown);
  }
  const read = parse(typed);
  const take = (): void => {
    if (typed !== shown && read.ok && typeof read.value === 'string') onSet(read.value);
  };
  return (
    <TextField
      size="small"
      className={className}
      value={typed}
      error={!read.ok}
      helperText={read.ok ? undefined : read.message}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
      slotProps={{ htmlInput: { 'aria-label': label } }}
    />
  );
}
