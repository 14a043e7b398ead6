export { allow, hasRight, needRight, requireOneWriteRight, requireWriteRight } from './allow.ts';
export { type Caller, findCaller } from './caller.ts';
export { SESSION_COOKIE, TOKEN, tokenHash } from './credential.ts';
export { definitionsFor } from './definitionsFor.ts';
export { memberDefinitions } from './memberDefinitions.ts';
export { callersLimit, isPartial, requireRecords } from './records.ts';
export { type Call, contractsOf, openRoute, route } from './route.ts';
