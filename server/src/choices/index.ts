export { findAmongChoices, findById, findByKey, findChoices, isAmongChoices, readableOf } from './store.ts';
