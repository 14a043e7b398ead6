export { entryRoutes } from './routes.ts';
export { saveEntry, writeEntry } from './save.ts';
