import { createHmac } from 'node:crypto';
import createKnex, { type Knex } from 'knex';
import pg from 'pg';

/** The application's database role: rows only. The owner is whoever DATABASE_URL signs in as. */
export const APP_ROLE = 'fiche_app';

// Values as core/fields knows them: numbers fit a double (at most 15 digits), dates and date-times are civil text.
pg.types.setTypeParser(20, Number);
pg.types.setTypeParser(1700, Number);
pg.types.setTypeParser(1082, String);
pg.types.setTypeParser(1083, (text) => text.slice(0, 5));
// bigint[]: the driver knows no name for it.
pg.types.setTypeParser(1016 as number, (text: string) =>
  text === '{}' ? [] : text.slice(1, -1).split(',').map(Number),
);
pg.types.setTypeParser(1114, (text) => `${text.slice(0, 10)}T${text.slice(11, 16)}`);
pg.types.setTypeParser(1184, (text) => new Date(text.replace(/([+-]\d\d)$/, '$1:00')).toISOString());

export type Database = Knex;
export type Transaction = Knex.Transaction;

/** The two roles' connections to one database. */
export interface Databases {
  /** Rows only; every request works on this one. */
  readonly app: Database;
  /** Definitions and the tables they make; migrations and seeding. */
  readonly owner: Database;
}

/**
 * Connects both roles. `url` is the owner's. The application's password is derived from the owner's, so that several
 * servers need to be told only one; DATABASE_APP_URL overrides it.
 */
export function connect(url: string, sizes = { app: 10, owner: 4 }): Databases {
  return { app: pool(process.env.DATABASE_APP_URL ?? appUrl(url), sizes.app), owner: pool(url, sizes.owner) };
}

const pool = (url: string, max: number): Knex =>
  createKnex({ client: 'pg', connection: { connectionString: url, application_name: 'fiche' }, pool: { min: 0, max } });

/** The password of the application's role: known to whoever knows the owner's. */
export const appPassword = (url: string): string =>
  createHmac('sha256', new URL(url).password).update(APP_ROLE).digest('hex');

function appUrl(url: string): string {
  const app = new URL(url);
  app.username = APP_ROLE;
  app.password = appPassword(url);
  return app.href;
}

export async function disconnect(databases: Databases): Promise<void> {
  await Promise.all([databases.app.destroy(), databases.owner.destroy()]);
}
