import type { InputProps } from './input.ts';
import { RadioInput } from './RadioInput.tsx';

const STEPS = [
  { value: true, label: 'yes', key: 'y' },
  { value: false, label: 'no', key: 'n' },
];

/** Yes, no, or not said yet. */
export const YesNoInput = (props: InputProps) => <RadioInput {...props} steps={STEPS} />;
