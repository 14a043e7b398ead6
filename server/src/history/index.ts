export { CAPTURED, EXEMPT } from './captured.ts';
export { mailReceipts } from './mailReceipts.ts';
export { newestReceipt } from './receipts.ts';
export { historyRoutes, historyWork } from './routes.ts';
export { changedSince, type Since } from './since.ts';
export { recordLines } from './store.ts';
export { makePartitions, sealLedger, verifyLedger } from './verify.ts';
