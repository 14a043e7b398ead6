export { EntryFields, Lines } from './EntryFields.tsx';
export { hasUnsavedWork, ProblemList } from './ProblemList.tsx';
export { dropdownAt, enterMovesOn, focusField, focusFirstProblem, inputId, PlaceContext, placeName } from './places.ts';
export { ReasonList } from './ReasonList.tsx';
export { type Entry, lastBy, useEntry } from './useEntry.ts';
export { WhySheet } from './WhySheet.tsx';
