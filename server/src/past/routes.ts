import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { readFromStandby } from '../database/index.ts';
import type { Services } from '../services.ts';
import { pastOf } from './asOf.ts';
import { recordAsOf } from './card.ts';

/** Routes that read single records of the past, and how tables were defined; lists of the past are asked for as lists are. */
export function pastRoutes(app: FastifyInstance, services: Services): void {
  route(app, services, routes.recordAsOf, ({ params, query, definitions, walPosition }) =>
    readFromStandby(services.databases, walPosition, (database) =>
      recordAsOf(database, definitions, {
        table: params.table ?? '',
        id: Number(params.id),
        at: query.at,
        form: query.form,
      }),
    ),
  );
  route(app, services, routes.tablesAsOf, ({ params, query, definitions, walPosition }) =>
    readFromStandby(services.databases, walPosition, async (database) => {
      const { tables, then } = await pastOf(database, definitions, query.at);
      return {
        tables: [...tables.values()].filter((table) => table.cabinet === params.cabinet && then.has(table.id)),
      };
    }),
  );
}
