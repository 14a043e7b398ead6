export { viewRoutes } from './routes.ts';
export { changedInSpan, type LineSpan } from './rows.ts';
export { type SeenView, seenView } from './seenView.ts';
export { addView } from './store.ts';
