export { formRoutes } from './routes.ts';
export { createForm, findForm, prepared, publishForm, saveDraft, tableForm, versionOf } from './store.ts';
