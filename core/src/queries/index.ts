export { conditionToSql, inNaturalOrder, isStamp, type Sql } from './conditionToSql.ts';
export { inlined } from './inlined.ts';
export { quoted } from './quoted.ts';
export { isLimited, isPast, recordsOf, relation, SeenTables, seesAllOf, wholeTable } from './seenTables.ts';
