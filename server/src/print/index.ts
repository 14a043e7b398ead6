export { addLayout } from './layouts.ts';
export { type PrintedSelection, printSelection, requirePrint } from './printed.ts';
export { printRoutes } from './routes.ts';
