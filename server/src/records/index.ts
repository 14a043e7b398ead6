export { factsSql, readFacts } from './facts.ts';
export { keepOrder, linesOfForm, linesOfRecord } from './lines.ts';
export { linkingSql, linksTo } from './links.ts';
export { keepOrigins, type Origins, originsOfRecord } from './origins.ts';
export { recordRoutes } from './routes.ts';
export { choiceSearchSql, searchSql, typedSearchSql } from './search.ts';
export { findRecord, listRecords, placeOf, type WantedFacts } from './store.ts';
export { showTitle, titleSql } from './titles.ts';
export { insertRecord, insertRecords, type SaveKey, updateRecord } from './write.ts';
