export { EntryFields, focusField, focusFirstProblem, hasUnsavedWork, inputId, ProblemList } from './EntryFields.tsx';
export { ReasonList } from './ReasonList.tsx';
export { type Conflict, civilNow, type Entry, useEntry } from './useEntry.ts';
export { WhySheet } from './WhySheet.tsx';
