export { exampleHolds } from './examples.ts';
export type { Check, Examined, Finding, Weight } from './finding.ts';
export { PROOF, prove } from './prove.ts';
