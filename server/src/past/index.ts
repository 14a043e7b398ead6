export { listPast, type Past, pastOf } from './asOf.ts';
export { recordAsOf } from './card.ts';
export { pastRoutes } from './routes.ts';
export { forgetSnapshots } from './snapshot.ts';
