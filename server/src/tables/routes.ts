import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { type Actor, asActor } from '../database/index.ts';
import type { Services } from '../services.ts';
import { addField, changeField, changeTable, createTable } from './store.ts';

export function tableRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;
  const builder = (login: string | null): Actor => ({
    name: login ?? '',
    through: { kind: 'tables', label: 'Tables' },
  });

  route(app, services, routes.createTable, ({ params, body, caller }) =>
    asActor(databases.owner, builder(caller.login), (owner) =>
      createTable(owner, params.cabinet ?? '', body.label, body.description),
    ),
  );

  route(app, services, routes.changeTable, ({ params, body, caller }) =>
    asActor(databases.owner, builder(caller.login), (owner) => changeTable(owner, params.table ?? '', body)),
  );

  route(app, services, routes.addField, ({ params, body, caller }) =>
    asActor(databases.owner, builder(caller.login), (owner) => addField(owner, params.table ?? '', body)),
  );

  route(app, services, routes.changeField, ({ params, body, caller }) =>
    asActor(databases.owner, builder(caller.login), (owner) =>
      changeField(owner, params.table ?? '', params.field ?? '', body),
    ),
  );
}
