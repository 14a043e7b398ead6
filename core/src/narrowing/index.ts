export { narrowingColumns } from './columns.ts';
export { explainNarrowing, type Narrowed } from './explain.ts';
export { choiceMeant, choicesFound } from './named.ts';
export { type Choice, type Facts, type Narrowing, NOT_NARROWED, narrowingSchema } from './narrowing.ts';
export { certainPairs, wantedOf } from './pairs.ts';
export { resolveNarrowing, type Scope } from './resolve.ts';
export { conjuncts, type Source, sourceOf, withAncestors, withTableNarrowing } from './source.ts';
