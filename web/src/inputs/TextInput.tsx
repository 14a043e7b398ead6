import { typeOf } from '@fiche/core/tables';
import { type InputHTMLAttributes, useState } from 'react';
import { describedBy } from '../parts/index.ts';
import type { InputProps } from './input.ts';

/** The attributes that connect an input with its label, its problems and its state. */
export const connected = ({ id, invalid, required }: Pick<InputProps, 'id' | 'invalid' | 'required'>) => ({
  id,
  'aria-describedby': describedBy(id),
  'aria-invalid': invalid || undefined,
  'aria-required': required || undefined,
});

/** A value typed as text: what is being typed stays as it is, and shows in its settled form once it is left. */
export function TextInput({ more, ...props }: InputProps & { more?: InputHTMLAttributes<HTMLInputElement> }) {
  const { field, value, unread, onTyped, onLeft } = props;
  const [typing, setTyping] = useState<string>();
  const settled = unread ?? (value === null ? '' : typeOf(field.field).format(value, field.field.settings));
  return (
    <input
      {...connected(props)}
      autoComplete="off"
      {...more}
      value={typing ?? settled}
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
