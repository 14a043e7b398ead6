import type { InputProps } from './input.ts';
import { RadioInput } from './RadioInput.tsx';

/** One of a few steps, from 1 to the best. */
export function RatingInput(props: InputProps) {
  const most = Number(props.field.field.settings.most ?? 5);
  const steps = Array.from({ length: most }, (_one, at) => ({
    value: at + 1,
    label: String(at + 1),
    key: String(at + 1),
  }));
  return <RadioInput {...props} steps={steps} />;
}
