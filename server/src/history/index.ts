export { historyRoutes } from './routes.ts';
export { recordLines } from './store.ts';
export { makePartitions, sealLedger, verifyLedger } from './verify.ts';
