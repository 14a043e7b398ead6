export { beginToken, begunAt, FINISH_HOURS } from './begun.ts';
export { inLanguage } from './inLanguage.ts';
export { formRoutes } from './routes.ts';
export {
  createForm,
  draftFindings,
  filledVersionOf,
  findForm,
  findFormInUse,
  findPage,
  prepared,
  publishForm,
  saveDraft,
  tableForm,
  versionOf,
} from './store.ts';
