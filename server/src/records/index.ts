export { recordRoutes } from './routes.ts';
export {
  choiceSearchSql,
  factsSql,
  findRecord,
  insertRecord,
  linkingSql,
  linksTo,
  readFacts,
  type SaveKey,
  searchSql,
  showTitle,
  titleSql,
  typedSearchSql,
  updateRecord,
  type WantedFacts,
} from './store.ts';
