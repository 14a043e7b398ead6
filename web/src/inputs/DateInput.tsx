import { typeOf } from '@fiche/core/tables';
import type { InputProps } from './input.ts';
import { connected, TextInput } from './TextInput.tsx';

/** A finger picks dates better than it types them; at a desk, typing is quicker. */
const byFinger = (): boolean => window.matchMedia('(pointer: coarse)').matches;

export function DateInput(props: InputProps) {
  const { field, value, onChanged, onLeft } = props;
  const { type } = field.field;
  if (!byFinger())
    return (
      <TextInput {...props} more={{ placeholder: { date: 'date', time: 'time', dateTime: 'date, time' }[type] }} />
    );
  return (
    <input
      {...connected(props)}
      type={type === 'dateTime' ? 'datetime-local' : type}
      value={String(value ?? '')}
      onBlur={onLeft}
      onChange={(event) => {
        const read = typeOf(field.field).accept(
          event.target.value === '' ? null : event.target.value.slice(0, 16),
          field.field.settings,
        );
        if (read.ok) onChanged(read.value);
      }}
    />
  );
}
