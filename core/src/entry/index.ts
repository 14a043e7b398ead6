export { type Answered, answeredWords } from './answered.ts';
export { type AnswerSource, answerQuestion } from './answerQuestion.ts';
export { carryOver } from './carry.ts';
export { defaultOf } from './initial.ts';
export { linePath, splitPath } from './linePath.ts';
export { openColumns } from './lines.ts';
export { prefilled } from './prefill.ts';
export { isPresent, presentLines } from './presence.ts';
export {
  type AskedRule,
  askedRules,
  type EntryProblem,
  isRaised,
  isRequired,
  openFailure,
  problemsOf,
  reasonsGiven,
  visibleProblems,
} from './problems.ts';
export { isExcluded, type Readable, readable } from './readable.ts';
export { isBusy, isDirty, openEntry, reduceEntry } from './reduce.ts';
export { submission } from './saving.ts';
export { effectiveValues, fitsNarrowing, narrowedBy, readForm, readOperand, scopeOf } from './scope.ts';
export { startedFrom } from './startFrom.ts';
export type {
  ChoiceList,
  Conflict,
  Enclosing,
  EntryEvent,
  EntryState,
  FieldRequest,
  FieldState,
  FoundRecord,
  LineAddress,
  LinkedRecord,
  Offer,
  OpenedRecord,
  Opening,
  Question,
  Request,
  SentLine,
  Step,
  SubformLine,
  SubformLines,
  Submission,
} from './state.ts';
export { type EntryStep, isItemShown, problemsOfStep, stepsOf } from './steps.ts';
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
export { enterUnsaved, typedSince, type Unsaved, type UnsavedField, unsavedCopyOf, unsavedOf } from './unsaved.ts';
export { fieldState, openRequest, showValue } from './workingState.ts';
