export { forgetAttempts, forgive, limit } from './limit.ts';
export { notFound, problemDocument, Refusal, unacceptable } from './problem.ts';
