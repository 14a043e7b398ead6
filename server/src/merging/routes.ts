import { routes } from '@fiche/core/api';
import { recordsOf } from '@fiche/core/queries';
import type { RecordId, TableDefinition } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import type { Database } from '../database/index.ts';
import { type Definitions, requireInUse } from '../definitions/index.ts';
import { limit } from '../http/index.ts';
import { findRecordsWhere, linkingSql, linksTo } from '../records/index.ts';
import type { Services } from '../services.ts';
import { tableOf } from '../views/index.ts';
import { duplicatesOf } from './duplicates.ts';
import { mergeRecords } from './merge.ts';

/** Searches for duplicates by one account within an hour: each reads the whole table. */
const SEARCHES_AN_HOUR = 200;

/** Finds records that are alike, compares them, and makes one of them. */
export function mergingRoutes(app: FastifyInstance, services: Services): void {
  const { databases, mail } = services;
  route(app, services, routes.findDuplicates, async (call) => {
    await limit(call.request, `duplicates:${call.caller.login}`, SEARCHES_AN_HOUR, 3_600);
    return duplicatesOf(databases.work.owner, call.definitions.tables, tableOf(call), call.body);
  });
  route(app, services, routes.compareRecords, async (call) => {
    const table = tableOf(call);
    const { tables } = call.definitions;
    const ids = call.body.records;
    const records = await findRecordsWhere(databases.app, tables, table.id, 'r.id = ANY(?) ORDER BY r.id', [ids]);
    const linking = await countLinking(
      databases.app,
      call.definitions,
      table,
      records.map((one) => one.id),
    );
    return { records: records.map((record) => ({ ...record, linking: linking.get(record.id) ?? 0 })) };
  });
  route(app, services, routes.mergeRecords, async (call) => {
    const table = tableOf(call);
    requireInUse(call.definitions, table.cabinet, [table]);
    const { plan } = call.body;
    const login = call.caller.login ?? '';
    const count = plan.records.length;
    const actor = { name: login, through: { kind: 'merge', label: `${count} records of ${table.label}` } } as const;
    const saver = { actor, account: call.caller.login, definitions: call.definitions, mail };
    return mergeRecords(databases.app, saver, table, plan, call.body.do);
  });
}

/** How many records that the caller sees link to each of some records. */
async function countLinking(
  app: Database,
  { tables }: Definitions,
  table: TableDefinition,
  ids: readonly RecordId[],
): Promise<Map<RecordId, number>> {
  const counts = new Map<RecordId, number>();
  const fields = linksTo(tables, table.id).filter(({ table: from, field }) => from.fields.includes(field));
  for (const { table: from, field } of fields)
    for (const id of ids) {
      const { rows } = await app.raw<{ rows: { n: number }[] }>(
        `SELECT count(*) AS n FROM ${recordsOf(tables, from.id)} r WHERE ${linkingSql(field, 'r')}`,
        [id],
      );
      counts.set(id, (counts.get(id) ?? 0) + Number(rows[0]?.n ?? 0));
    }
  return counts;
}
