export { EntryFields, focusField, hasUnsavedWork, inputId, ProblemList } from './EntryFields.tsx';
export { type Conflict, civilNow, type Entry, useEntry } from './useEntry.ts';
