export { mergedInto } from './mergedInto.ts';
export { mergingRoutes } from './routes.ts';
