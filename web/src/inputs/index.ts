export type { InputProps } from './input.ts';
export { inputFor } from './registry.ts';
