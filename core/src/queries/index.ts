export { conditionToSql, inNaturalOrder, quoted, relation, type Sql } from './conditionToSql.ts';
