export { addLayout } from './layouts.ts';
export { type PrintedSelection, printSelection, requirePrint } from './printSelection.ts';
export { printRoutes } from './routes.ts';
