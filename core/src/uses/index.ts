export type { UsedForm } from './ofForm.ts';
export type { UsedView } from './ofView.ts';
export type { UsePlace } from './reading.ts';
export { type Use, type UsedThing, type UsedWorld, usesOf } from './uses.ts';
