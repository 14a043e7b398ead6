export { spamReason, WORK_BITS, workIsDone } from './check.ts';
export { decideAnswer, heldAnswers, holdAnswer, waitingAnswer } from './store.ts';
