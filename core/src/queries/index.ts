export { conditionToSql, quoted, relation, type Sql } from './conditionToSql.ts';
