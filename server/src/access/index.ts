export { allow, needRight, requireWriteRight, SESSION_COOKIE } from './allow.ts';
export { type Caller, findCaller, tokenHash } from './caller.ts';
export { type Call, contractsOf, openRoute, route } from './route.ts';
