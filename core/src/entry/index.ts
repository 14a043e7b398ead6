export { readable, showValue } from './draft.ts';
export { defaultOf } from './initial.ts';
export {
  askedRules,
  type EntryProblem,
  isRaised,
  isRequired,
  problemsOf,
  reasonsGiven,
  visibleProblems,
} from './problems.ts';
export { busy, carryOver, isDirty, openEntry, reduceEntry, submission } from './reduce.ts';
export { effectiveValues, narrowedBy, type Readable, readForm, readOperand, scopeOf } from './scope.ts';
export type {
  ChoiceList,
  Enclosing,
  EntryEvent,
  EntryState,
  Found,
  Linked,
  Offer,
  OpenedRecord,
  Opening,
  Request,
  Step,
  Submission,
} from './state.ts';
export { type Check, changesOf, checksOf, originsOf, type Sent, submitEntry } from './submit.ts';
