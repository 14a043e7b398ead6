export { type ListedPast, listPast, type Past, pastOf } from './asOf.ts';
export { recordAsOf } from './card.ts';
export { type Checkpoint, checkpointsOf, makeCheckpoints, statesSql } from './checkpoints.ts';
export { pastRoutes } from './routes.ts';
export { forgetSnapshots } from './snapshot.ts';
