export { factsSql, readFacts } from './facts.ts';
export { linkingSql, linksTo } from './links.ts';
export { keepOrigins, type Origins, originsOfRecord } from './origins.ts';
export { recordRoutes } from './routes.ts';
export { choiceSearchSql, searchSql, typedSearchSql } from './search.ts';
export { findRecord, insertRecord, type SaveKey, updateRecord, type WantedFacts } from './store.ts';
export { showTitle, titleSql } from './titles.ts';
