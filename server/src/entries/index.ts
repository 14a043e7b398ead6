export { type Decided, decideMany } from './decide.ts';
export { entryRoutes } from './routes.ts';
export { saveEntry, writeEntry } from './save.ts';
