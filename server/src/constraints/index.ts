export { type Conflict, conflictError, conflictsOf } from './conflicts.ts';
export { COMBINATION_TWICE, constraintProblem, heldName } from './constraints.ts';
export { familyOf, rangeSql } from './range.ts';
