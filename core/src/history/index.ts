export { type ChainedLine, chainFollower, lineText, type Misfit, type Seal, sealFollower, sealText } from './chain.ts';
export { describeChanges, type FieldChange, type LineKind, linksIn, type Through } from './line.ts';
export { type Merged, mergeValues } from './merge.ts';
