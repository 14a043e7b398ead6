import { routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { recordsOf } from '@fiche/core/queries';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { constraintProblem } from '../constraints/index.ts';
import { asActor } from '../database/index.ts';
import { loadTable, requireInUse } from '../definitions/index.ts';
import { notFound } from '../http/index.ts';
import { findRecord, linkingSql, linksTo, showTitle, titleSql } from '../records/index.ts';
import type { Services } from '../services.ts';
import { buildingWith } from './building.ts';
import { createList, saveCombinations, useList } from './combinations.ts';
import { fieldRoutes } from './fieldRoutes.ts';
import { makeLines } from './makeLines.ts';
import { ruleRoutes } from './ruleRoutes.ts';
import { changeTable, createTable } from './store.ts';
import { typeRoutes } from './typeRoutes.ts';

/** How many linking records are named; the rest are counted. */
const NAMED = 8;

export function tableRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;
  const building = buildingWith(services);
  const { build } = building;
  route(app, services, routes.createTable, ({ params, body, caller }) =>
    build(caller, (owner) => createTable(owner, params.cabinet ?? '', body.label, body.description)),
  );
  route(app, services, routes.createList, ({ params, body, caller }) =>
    build(caller, (owner) => createList(owner, params.cabinet ?? '', body.label, body.levels)),
  );
  route(app, services, routes.useList, ({ params, body, caller }) =>
    build(caller, async (owner) => {
      const list = await loadTable(owner, params.table ?? '');
      if (!list) throw notFound(say('This option list'));
      return useList(owner, list, body);
    }),
  );
  route(app, services, routes.makeLines, ({ params, body, caller }) =>
    build(caller, (owner) => makeLines(owner, params.table ?? '', body.label)),
  );
  route(app, services, routes.changeTable, ({ params, body, caller }) =>
    build(caller, (owner) => changeTable(owner, params.table ?? '', body)),
  );
  fieldRoutes(app, services, building);
  typeRoutes(app, services, building);
  ruleRoutes(app, services, building);
  route(app, services, routes.saveCombinations, ({ params, body, caller, definitions }) => {
    const table = definitions.tables.get(params.table ?? '');
    if (!table) throw notFound(say('This table'));
    requireInUse(definitions, table.cabinet, [table]);
    const actor = { name: caller.login ?? '', through: { kind: 'table', label: table.label } } as const;
    return asActor(databases.app, actor, (transaction) => saveCombinations(transaction, table, body)).catch((error) => {
      throw constraintProblem(table, error) ?? error;
    });
  });

  route(app, services, routes.linkingRecords, async ({ params, definitions: { tables } }) => {
    const id = Number(params.id);
    await findRecord(databases.app, tables, params.table ?? '', id);
    const linking = [];
    for (const { table, field } of linksTo(tables, params.table ?? '')) {
      if (!table.fields.includes(field)) continue;
      const { rows } = await databases.app.raw<{ rows: { id: number; title: unknown; count: number }[] }>(
        `SELECT r.id, ${titleSql(tables, table, 'r')} AS title, count(*) OVER () AS count FROM ${recordsOf(tables, table.id)} r WHERE r.archived_at IS NULL AND ${linkingSql(field, 'r')} ORDER BY r.id LIMIT ${NAMED}`,
        [id],
      );
      linking.push({
        table: table.id,
        field: field.id,
        count: rows[0]?.count ?? 0,
        records: rows.map((row) => ({ id: row.id, title: showTitle(tables, table, row.title) })),
      });
    }
    return { linking };
  });
}
