export {
  type ChainedLine,
  type ChainFollower,
  chainFollower,
  digestText,
  isErased,
  lineText,
  type Misfit,
  type Seal,
  sealFollower,
  sealText,
  vouchedText,
} from './chain.ts';
export { type CheckpointCut, checkpointCuts, type LineSpan } from './checkpoints.ts';
export { describeChanges, type FieldChange, type LineKind, linksIn, showCaptured, type Through } from './line.ts';
export { type Merged, mergeValues } from './merge.ts';
export { type HashedLine, LEDGER_FORMAT, RECEIPT_FORMAT, type Receipt, receiptText } from './receipt.ts';
export { differingColumn, sameCaptured, type Told, told } from './replay.ts';
export { type Stamp, stampWords } from './stamp.ts';
export { type DefinitionLine, sameColumn, type TableThen, tablesThen, tableThen } from './then.ts';
