import type { Database } from '../database/index.ts';

/** The table that an import's good rows wait in. */
export const stagingOf = (id: number): string => `staging."import_${id}"`;

/** Drops the staged rows of files that were sent a week ago and never imported. */
export async function dropOldStaging(owner: Database): Promise<void> {
  const { rows } = await owner.raw<{ rows: { id: number }[] }>(
    `SELECT i.id FROM fiche.import i JOIN pg_tables t ON t.schemaname = 'staging' AND t.tablename = 'import_' || i.id
     WHERE i.at < now() - interval '7 days'`,
  );
  for (const { id } of rows) await owner.raw(`DROP TABLE IF EXISTS ${stagingOf(id)}`);
}
