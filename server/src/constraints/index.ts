export { type Conflict, conflictError, conflictsOf } from './conflicts.ts';
export { COMBINATION_TWICE, constraintProblem, heldName } from './constraints.ts';
export { inSavepoint } from './inSavepoint.ts';
export type { ImportedRows } from './kinds/kind.ts';
export { constraintSql } from './kinds/registry.ts';
export { sameAsRecord, sameInFile, sameRecords } from './kinds/unique.ts';
