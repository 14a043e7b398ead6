export {
  type Asked,
  askingOf,
  exportReader,
  listingAt,
  type Read,
  readAt,
  requireReadable,
  shownOf,
  tableOf,
  viewAt,
  viewOf,
} from './asked.ts';
export { columnSql } from './columnSql.ts';
export { viewRoutes } from './routes.ts';
export {
  behindSql,
  changedInSpan,
  conditionsOf,
  countListed,
  isRanked,
  type LineSpan,
  listedIds,
  listedPage,
  listRows,
  placeInListing,
  type Reader,
  type RowsQuery,
} from './rows.ts';
export { type SeenView, seenView } from './seenView.ts';
export { addView, findView, type StoredView, viewsForHome, viewsOf } from './store.ts';
export { readerOf, viewFor } from './viewFor.ts';
export { type WholeQuery, wholeListing } from './wholeListing.ts';
