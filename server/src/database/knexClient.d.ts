declare module 'knex/lib/dialects/postgres/index.js' {
  import type { Knex } from 'knex';
  import type { DirectConnection } from './pool.ts';

  /** The query builder’s client for PostgreSQL, as far as it is extended here. */
  export default class PostgresClient extends Knex.Client {
    /** Opens one connection by `connectionSettings`, for the pool. */
    _acquireOnlyConnection(): Promise<DirectConnection>;
  }
}
