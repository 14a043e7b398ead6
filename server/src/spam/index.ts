export { spamReason, WORK_BITS, workIsDone } from './check.ts';
export { decideAnswer, heldAnswers, heldCounts, holdAnswer, waitingAnswer } from './store.ts';
