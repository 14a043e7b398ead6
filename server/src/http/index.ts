export { type ConnectionLimits, limitConnections } from './connections.ts';
export { addressOf, countTry, forgetAttempts, forgive, limit, overLimit, registerLimits, tooMany } from './limit.ts';
export { notFound, problemDocument, Refusal, unacceptable } from './problem.ts';
export { retryAfter } from './unavailable.ts';
