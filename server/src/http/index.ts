export { type ConnectionLimits, limitConnections } from './connections.ts';
export { addressOf, countTry, forgetAttempts, limit, overLimit, registerLimits, resetLimit, tooMany } from './limit.ts';
export { notFound, problemDocument, Refusal, unacceptable } from './problem.ts';
export { retryAfter } from './unavailable.ts';
