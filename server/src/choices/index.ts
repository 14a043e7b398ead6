export { explainChoices } from './explain.ts';
export {
  type Asked,
  enclosingOf,
  findAmongChoices,
  findById,
  findByKey,
  findChoices,
  isAmongChoices,
  readableOf,
} from './store.ts';
