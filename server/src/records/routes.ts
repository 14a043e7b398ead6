import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { asActor, readFromStandby } from '../database/index.ts';
import type { Services } from '../services.ts';
import { eraseRecord } from './erase.ts';
import { countPlace } from './place.ts';
import { findRecord, listRecords } from './store.ts';

export function recordRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;

  route(app, services, routes.listRecords, ({ params, query, definitions, walPosition }) =>
    readFromStandby(databases, walPosition, (database) =>
      listRecords(database, definitions.tables, params.table ?? '', query),
    ),
  );

  route(app, services, routes.readPlace, async ({ params, definitions, walPosition }) => {
    const { id } = await findRecord(databases.app, definitions.tables, params.table ?? '', Number(params.id));
    return readFromStandby(databases, walPosition, (database) =>
      countPlace(database, definitions.tables, params.table ?? '', id),
    );
  });

  // As the owner: the application's role can take no row away.
  route(app, services, routes.eraseRecord, async ({ params, body, caller, definitions }) => {
    const table = params.table ?? '';
    const label = definitions.tables.get(table)?.label ?? table;
    const actor = { name: caller.login ?? '', through: { kind: 'table', label, reason: body.reason } } as const;
    await asActor(databases.owner, actor, (owner) =>
      eraseRecord(owner, definitions.tables, table, Number(params.id), body.version),
    );
    return {};
  });
}
