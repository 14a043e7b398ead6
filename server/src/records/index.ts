export { type BrokenRecords, brokenRecords } from './brokenRecords.ts';
export { eraseRecord } from './erase.ts';
export { factsSql, pathSql, readFacts } from './facts.ts';
export { findByWords } from './findByWords.ts';
export { keepOrder, linesOfForm, linesOfForms, linesOfRecord } from './lines.ts';
export { linkingSql, linksTo } from './links.ts';
export { keepOrigins, type Origins, originsOfRecord, originsOfRecords } from './origins.ts';
export { lockPast } from './pastKept.ts';
export { placeOf, recordAt } from './place.ts';
export { recordRoutes } from './routes.ts';
export { choiceSearchSql, searchSql, typedColumns, typedSearchSql } from './search.ts';
export {
  filterSql,
  findRecord,
  findRecordsWhere,
  findSeen,
  listedRows,
  listRecords,
  type Queryable,
  type RecordFilter,
  type WantedFacts,
} from './store.ts';
export { showTitle, titleSql, titlesOf } from './titles.ts';
export { findConflict, insertRecord, insertRecords, type SaveKey, updateRecord, updateRecords } from './write.ts';
