export { countAssigned } from './assigned.ts';
export { forbiddenRows } from './forbidden.ts';
export { makeStaging, type StagedRow, Staging, stagedFields } from './staging.ts';
export { checkTogether, type Refuse } from './together.ts';
