export { explainChoices } from './explain.ts';
export {
  type Asked,
  enclosingAsSent,
  findAmongChoices,
  findById,
  findByKey,
  findChoices,
  isAmongChoices,
  readableOf,
} from './store.ts';
