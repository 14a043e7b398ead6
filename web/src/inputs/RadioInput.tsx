import type { Value } from '@fiche/core/fields';
import FormControlLabel from '@mui/material/FormControlLabel';
import Radio from '@mui/material/Radio';
import RadioGroup from '@mui/material/RadioGroup';
import { describedBy } from '../parts/index.ts';
import type { InputProps } from './input.ts';
import radioStepsCss from './radioSteps.module.css';

interface RadioStep {
  readonly value: Value;
  readonly label: string;
  /** The key that chooses it. */
  readonly key: string;
}

/**
 * A few steps side by side, or none chosen yet: one stop for Tab and Enter. Arrows and the key of a step choose it,
 * Space chooses the one in focus, Delete clears the answer; other letters do nothing.
 */
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
    <RadioGroup
      row
      className={radioStepsCss.steps}
      id={id}
      name={id}
      value={steps.find((step) => step.value === value)?.key ?? ''}
      aria-labelledby={`${id}-label`}
      aria-describedby={describedBy(id)}
      aria-invalid={invalid || undefined}
      aria-required={required || undefined}
      onChange={(_event, key) => onChanged(steps.find((step) => step.key === key)?.value ?? null)}
      onBlur={(event) => {
        // From one step to another is not leaving the field.
        if (!event.currentTarget.contains(event.relatedTarget)) onLeft();
      }}
      onKeyDown={(event) => {
        if (event.ctrlKey || event.altKey || event.metaKey) return;
        const step = steps.find((one) => one.key === event.key.toLowerCase());
        if (step) onChanged(step.value);
        else if (event.key === 'Delete' || event.key === 'Backspace') onChanged(null);
        else return;
        event.preventDefault();
        // The focus goes with the choice: the arrows go on from there.
        if (step) event.currentTarget.querySelector<HTMLElement>(`input[value="${step.key}"]`)?.focus();
      }}
    >
      {steps.map((step) => (
        <FormControlLabel key={step.key} value={step.key} label={step.label} control={<Radio />} />
      ))}
    </RadioGroup>
  );
}
