export { addLayout } from './layouts.ts';
export { type PrintedSelection, printSelection } from './printed.ts';
export { printRoutes } from './routes.ts';
