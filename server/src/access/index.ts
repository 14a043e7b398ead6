export { allow, needRight, SESSION_COOKIE } from './allow.ts';
export { type Caller, findCaller, tokenHash } from './caller.ts';
export { type Call, contractsOf, route } from './route.ts';
