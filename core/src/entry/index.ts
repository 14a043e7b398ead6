export { showValue } from './draft.ts';
export { defaultOf } from './initial.ts';
export { problemsOf, visibleProblems } from './problems.ts';
export { busy, carryOver, isDirty, openEntry, reduceEntry, submission } from './reduce.ts';
export { narrowedBy, type Readable, readForm, readOperand } from './scope.ts';
export type {
  ChoiceList,
  EntryEvent,
  EntryState,
  Found,
  Linked,
  OpenedRecord,
  Opening,
  Request,
  Step,
} from './state.ts';
export { type Check, changesOf, checksOf, submitEntry } from './submit.ts';
