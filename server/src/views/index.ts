export { viewRoutes } from './routes.ts';
export { addView } from './store.ts';
