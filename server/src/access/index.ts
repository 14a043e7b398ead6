export { allow, needRight, requireWriteRight } from './allow.ts';
export { type Caller, findCaller } from './caller.ts';
export { SESSION_COOKIE, TOKEN, tokenHash } from './credential.ts';
export { type Call, contractsOf, openRoute, route } from './route.ts';
