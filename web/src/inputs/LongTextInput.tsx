import { useState } from 'react';
import type { InputProps } from './input.ts';
import { connected } from './TextInput.tsx';

/** Several lines; Enter makes a new one. */
export function LongTextInput(props: InputProps) {
  const [typing, setTyping] = useState<string>();
  const settled = props.unread ?? String(props.value ?? '');
  return (
    <textarea
      {...connected(props)}
      rows={Math.min(6, (typing ?? settled).split('\n').length)}
      value={typing ?? settled}
      onChange={(event) => {
        setTyping(event.target.value);
        props.onTyped(event.target.value);
      }}
      onBlur={() => {
        setTyping(undefined);
        props.onLeft();
      }}
    />
  );
}
