import { typeOf } from '@fiche/core/tables';
import { type InputHTMLAttributes, type ReactNode, useState } from 'react';
import { describedBy, FieldInput } from '../parts/index.ts';
import type { InputProps } from './input.ts';

/** The attributes that connect an input with its label, its problems and its state. */
export const connected = ({ id, invalid, required }: Pick<InputProps, 'id' | 'invalid' | 'required'>) => ({
  id,
  'aria-describedby': describedBy(id),
  'aria-invalid': invalid || undefined,
  'aria-required': required || undefined,
});

type TextInputProps = InputProps & {
  readonly more?: InputHTMLAttributes<HTMLInputElement>;
  readonly multiline?: boolean;
  readonly end?: ReactNode;
};

/** A value typed as text: it stays as typed, and shows in its formatted form once the field is left. */
export function TextInput({ more, multiline, end, ...props }: TextInputProps) {
  const { field, value, unread, onTyped, onLeft } = props;
  const [typing, setTyping] = useState<string>();
  const formatted = unread ?? (value === null ? '' : typeOf(field.field).format(value, field.field.settings));
  return (
    <FieldInput
      {...connected(props)}
      autoComplete="off"
      multiline={multiline}
      end={end}
      {...more}
      value={typing ?? formatted}
      onChange={(event) => {
        setTyping(event.target.value);
        onTyped(event.target.value);
      }}
      onBlur={() => {
        setTyping(undefined);
        onLeft();
      }}
    />
  );
}

export const NumberInput = (props: InputProps) => <TextInput {...props} more={{ inputMode: 'decimal' }} />;
export const KeyedInput = (props: InputProps) => <TextInput {...props} more={{ spellCheck: false }} />;
export const EmailInput = (props: InputProps) => (
  <TextInput {...props} more={{ inputMode: 'email', autoComplete: 'email', spellCheck: false }} />
);
export const PhoneInput = (props: InputProps) => (
  <TextInput {...props} more={{ inputMode: 'tel', autoComplete: 'tel' }} />
);
export const WebAddressInput = (props: InputProps) => (
  <TextInput {...props} more={{ inputMode: 'url', spellCheck: false }} />
);
