import { describedBy } from '../parts/index.ts';
import type { InputProps } from './input.ts';

/** Yes, no, or not said yet. Keys: arrows change, y and n choose, Delete takes it back. */
export function YesNoInput({ id, value, invalid, field, onChanged, onLeft }: InputProps) {
  return (
    <div
      className="yes-no"
      role="radiogroup"
      id={id}
      aria-labelledby={`${id}-label`}
      aria-describedby={describedBy(id)}
      aria-invalid={invalid || undefined}
      aria-required={field.required || undefined}
      onBlur={onLeft}
      onKeyDown={(event) => {
        if (event.ctrlKey || event.altKey || event.metaKey) return;
        if (event.key === 'y') onChanged(true);
        else if (event.key === 'n') onChanged(false);
        else if (event.key === 'Delete' || event.key === 'Backspace') onChanged(null);
        else return;
        event.preventDefault();
      }}
    >
      {[true, false].map((one) => (
        <label key={String(one)}>
          <input type="radio" name={id} checked={value === one} onChange={() => onChanged(one)} />
          {one ? 'yes' : 'no'}
        </label>
      ))}
    </div>
  );
}
