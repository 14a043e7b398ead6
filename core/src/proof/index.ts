export { exampleHolds } from './examples.ts';
export type { Check, Examined, Finding, Weight } from './finding.ts';
export type { LevelWord } from './levelWords.ts';
export { confirmDisclosures, levelWords, PROOF, pageDisclosures, prove } from './prove.ts';
