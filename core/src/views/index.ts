export {
  type ColumnCalculation,
  calculatedField,
  isCalculated,
  MOST_CALCULATED,
  prepareCalculation,
  SHOWN_AS,
} from './calculated.ts';
export { filterMisfit, listingProblems, listingSeenBy } from './check.ts';
export {
  AUDIT_COLUMNS,
  type AuditColumn,
  columnAt,
  columnOf,
  columnsFor,
  isAuditColumn,
  isGroupable,
  isSortable,
  type KnownColumn,
  plainListing,
} from './columns.ts';
export { isLinkedFrom, type LinkedFrom, linkedFromAt } from './linkedFrom.ts';
export { auditValue, groupTitle, listedText, summariesUnder } from './listedText.ts';
export { proposeShown } from './propose.ts';
export { AS_LIST, periodSettings, type Shown, shownSchema } from './shown.ts';
export { type ShownRead, shownProblems, shownReads, shownWords } from './shownReads.ts';
export { formatSummary, SUMMARY_LABELS, summariesOf } from './summaries.ts';
export {
  type Listing,
  listingSchema,
  MOST_EXPORTED_SINGLY,
  MOST_FROZEN,
  NARROWEST,
  SUMMARIES,
  type Summary,
  type ViewColumn,
  type ViewDefinition,
  type ViewSort,
  viewDefinitionSchema,
  WIDEST,
} from './view.ts';
export { type CapturedView, describeView, filterWords, recordsInFilter, recordsInView } from './words.ts';
