import type { Value } from '@fiche/core/fields';
import { describedBy } from '../parts/index.ts';
import type { InputProps } from './input.ts';

export interface RadioStep {
  readonly value: Value;
  readonly label: string;
  /** The key that chooses it. */
  readonly key: string;
}

/** A few steps side by side, or none chosen yet. Keys: arrows change, a step's key chooses it, Delete takes it back. */
export function RadioInput({
  steps,
  id,
  value,
  invalid,
  required,
  onChanged,
  onLeft,
}: InputProps & { steps: readonly RadioStep[] }) {
  return (
    <div
      className="yes-no"
      role="radiogroup"
      id={id}
      aria-labelledby={`${id}-label`}
      aria-describedby={describedBy(id)}
      aria-invalid={invalid || undefined}
      aria-required={required || undefined}
      onBlur={onLeft}
      onKeyDown={(event) => {
        if (event.ctrlKey || event.altKey || event.metaKey) return;
        const step = steps.find((one) => one.key === event.key);
        if (step) onChanged(step.value);
        else if (event.key === 'Delete' || event.key === 'Backspace') onChanged(null);
        else return;
        event.preventDefault();
      }}
    >
      {steps.map((step) => (
        <label key={step.key}>
          <input type="radio" name={id} checked={value === step.value} onChange={() => onChanged(step.value)} />
          {step.label}
        </label>
      ))}
    </div>
  );
}
