import { describedBy } from '../parts/index.ts';
import type { InputProps } from './input.ts';

/** One of a few steps. Keys: digits choose, arrows change, Delete takes it back. */
export function RatingInput({ id, value, invalid, field, onChanged, onLeft }: InputProps) {
  const most = Number(field.field.settings.most ?? 5);
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
        const typed = Number(event.key);
        if (event.key.trim() !== '' && typed >= 1 && typed <= most) onChanged(typed);
        else if (event.key === 'Delete' || event.key === 'Backspace') onChanged(null);
        else return;
        event.preventDefault();
      }}
    >
      {Array.from({ length: most }, (_one, at) => at + 1).map((step) => (
        <label key={step}>
          <input type="radio" name={id} checked={value === step} onChange={() => onChanged(step)} />
          {step}
        </label>
      ))}
    </div>
  );
}
