export { explainChoices } from './explain.ts';
export { type Asked, findAmongChoices, findById, findByKey, findChoices, isAmongChoices, readableOf } from './store.ts';
