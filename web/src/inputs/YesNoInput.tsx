import { say } from '@fiche/core/languages';
import type { InputProps } from './input.ts';
import { RadioInput } from './RadioInput.tsx';

/** Yes, no, or not said yet; the first letter of each word chooses it. */
export function YesNoInput(props: InputProps) {
  const step = (value: boolean, label: string) => ({ value, label, key: label.charAt(0).toLowerCase() });
  return <RadioInput {...props} steps={[step(true, say('yes')), step(false, say('no'))]} />;
}
