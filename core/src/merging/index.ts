export {
  type DuplicatesBy,
  duplicatesProblems,
  duplicatesSchema,
  groupsOf,
  MATCH_MODES,
  type MatchMode,
  MOST_COMPARED_FIELDS,
  matchModesOf,
  proposeDuplicates,
} from './duplicates.ts';
export {
  isChoosable,
  type MergedRecord,
  type MergePlan,
  MOST_MERGED,
  mergedValues,
  mergeSchema,
  proposeSources,
  type ValueSource,
} from './merge.ts';
