export { formRoutes } from './routes.ts';
export {
  createForm,
  findForm,
  pageVersionOf,
  prepared,
  publishForm,
  saveDraft,
  tableForm,
  versionOf,
} from './store.ts';
