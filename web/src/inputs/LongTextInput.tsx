import type { InputProps } from './input.ts';
import { TextInput } from './TextInput.tsx';

/** Several lines; Enter makes a new one. */
export const LongTextInput = (props: InputProps) => <TextInput {...props} multiline />;
