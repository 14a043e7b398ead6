export { type Past, pastOf, requireMade } from './asOf.ts';
export { pastRoutes } from './routes.ts';
