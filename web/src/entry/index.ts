export { EntryFields, Lines, OneField } from './EntryFields.tsx';
export { dropdownAt, enterMovesOn, focusField, focusFirstProblem, inputId, PlaceContext, placeName } from './focus.ts';
export { hasUnsavedWork, ProblemList } from './ProblemList.tsx';
export { ReasonList } from './ReasonList.tsx';
export { SeveralFound } from './SeveralFound.tsx';
export { type Entry, lastBy, useEntry } from './useEntry.ts';
export { WhySheet } from './WhySheet.tsx';
