export { exampleHolds } from './examples.ts';
export type { Check, Examined, Finding, Weight } from './finding.ts';
export { confirmDisclosures, PROOF, pageDisclosures, prove } from './prove.ts';
