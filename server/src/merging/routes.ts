import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { requireInUse } from '../definitions/index.ts';
import { limit } from '../http/index.ts';
import { findRecordsWhere } from '../records/index.ts';
import type { Services } from '../services.ts';
import { tableOf } from '../views/index.ts';
import { duplicatesOf } from './duplicates.ts';
import { countLinking } from './linking.ts';
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
