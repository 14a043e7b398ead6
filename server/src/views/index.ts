export { type Asked, askingOf, exportReader, requireReadable, tableOf, tablesAt, viewOf } from './asked.ts';
export { viewRoutes } from './routes.ts';
export {
  changedInSpan,
  countListed,
  isRanked,
  type LineSpan,
  listedIds,
  listedPage,
  listRows,
  placeInListing,
  type RowsQuery,
} from './rows.ts';
export { type SeenView, seenView } from './seenView.ts';
export { addView, viewsOf } from './store.ts';
export { type WholeQuery, wholeListing } from './wholeListing.ts';
