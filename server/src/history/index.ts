export { historyRoutes } from './routes.ts';
export { makePartitions, sealLedger, verifyLedger } from './verify.ts';
