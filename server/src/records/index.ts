export { recordRoutes } from './routes.ts';
export {
  factsSql,
  findRecord,
  insertRecord,
  readFacts,
  type SaveKey,
  searchSql,
  showTitle,
  titleSql,
  updateRecord,
  type WantedFacts,
} from './store.ts';
