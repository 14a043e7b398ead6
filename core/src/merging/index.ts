export {
  type DuplicatesBy,
  duplicatesProblems,
  duplicatesSchema,
  groupsOf,
  LIKENESSES,
  type Likeness,
  likenessesOf,
  proposeDuplicates,
} from './duplicates.ts';
export {
  isTakeable,
  type MergedRecord,
  type MergePlan,
  MOST_MERGED,
  mergedValues,
  mergeSchema,
  proposeTakes,
  type Take,
} from './merge.ts';
