export { rightsAnywhere } from './anywhere.ts';
export { covers } from './covers.ts';
export { filledFromHidden, formForRole, isLimitedAtFields, limitsOf } from './formForRole.ts';
export { type Hidden, hiddenFrom, isHiddenPath } from './hidden.ts';
export { ACTION_LABELS, roleProblems } from './misfit.ts';
export { type Asking, both, resolveRight, rightTo, rightToHistory, type Verdict } from './rightTo.ts';
export {
  ACTIONS,
  type Action,
  CABINET_RIGHTS,
  type CabinetRight,
  type Extent,
  everyAction,
  FIELD_LIMITS,
  FIRST_ROLES,
  type FieldLimit,
  HISTORIES,
  NO_ROLE,
  type Role,
  type RoleDefinition,
  rightsTo,
  roleDefinitionSchema,
  type TableRights,
  tableRightsSchema,
} from './role.ts';
export { limitSql, seesEverything, tablesSeenBy } from './seen.ts';
export { type UnfillableForm, unfillableForms } from './unfillableForms.ts';
export {
  describeRole,
  EXTENT_WORDS,
  extentWords,
  HISTORY_WORDS,
  LIMIT_WORDS,
  RIGHT_LABELS,
  recordsNamed,
} from './words.ts';
export { type SavedAct, wouldAllow } from './wouldAllow.ts';
