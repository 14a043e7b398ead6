export { historyRoutes } from './routes.ts';
export { changedSince, type Since } from './since.ts';
export { recordLines } from './store.ts';
export { makePartitions, sealLedger, verifyLedger } from './verify.ts';
