export { type Choice, type Facts, type Narrowing, NOT_NARROWED, narrowingSchema } from './narrowing.ts';
export { resolveNarrowing, type Scope } from './resolve.ts';
export { type Source, sourceOf, withAncestors } from './source.ts';
