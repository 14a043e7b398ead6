export { carryOver } from './carry.ts';
export { counts, linesIn } from './counting.ts';
export { showValue } from './draft.ts';
export { defaultOf } from './initial.ts';
export { linePath, splitPath } from './linePath.ts';
export { openColumns, readBlock } from './lines.ts';
export {
  type AskedRule,
  askedRules,
  type EntryProblem,
  isRaised,
  isRequired,
  problemsOf,
  reasonsGiven,
  visibleProblems,
} from './problems.ts';
export { type Readable, readable } from './readable.ts';
export { busy, isDirty, openEntry, reduceEntry } from './reduce.ts';
export { submission } from './saving.ts';
export { effectiveValues, fitsNarrowing, narrowedBy, readForm, readOperand, scopeOf } from './scope.ts';
export type {
  ChoiceList,
  Dispute,
  Enclosing,
  EntryEvent,
  EntryState,
  Found,
  Line,
  LineAt,
  Lines,
  Linked,
  Offer,
  OpenedRecord,
  Opening,
  Question,
  Request,
  SentLine,
  Step,
  Submission,
} from './state.ts';
export {
  type Check,
  changesOf,
  checksOf,
  originsOf,
  peopleNamed,
  type Sent,
  type SentLineOf,
  submitEntry,
} from './submit.ts';
export { copyOf, takeUp, type Unsaved, type UnsavedField, unsavedOf } from './unsaved.ts';
