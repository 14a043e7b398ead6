import InputBase from '@mui/material/InputBase';
import type { InputHTMLAttributes, ReactNode, Ref } from 'react';

type FieldInputProps = InputHTMLAttributes<HTMLInputElement> & {
  readonly inputRef?: Ref<HTMLInputElement>;
  /** Several lines of text: it grows with them, up to six. */
  readonly multiline?: boolean;
  /** What stands at the end of the line: a button, a unit. */
  readonly end?: ReactNode;
};

/** MUI’s bare input, which fills the line or cell around it; everything given goes to the input element itself. */
export function FieldInput({ inputRef, multiline, end, ...input }: FieldInputProps) {
  return (
    <InputBase
      fullWidth
      inputRef={inputRef}
      multiline={multiline}
      maxRows={multiline ? 6 : undefined}
      endAdornment={end}
      slotProps={{ input: input as object }}
    />
  );
}
