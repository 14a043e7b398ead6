import { routes } from '@fiche/core/api';
import { say, sayLater } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { notFound } from '../http/index.ts';
import type { Services } from '../services.ts';
import { missedByRipple } from './missed.ts';
import { tryRipple } from './trial.ts';

const tableOf = (definitions: Definitions, id: string | undefined): TableDefinition => {
  const table = (definitions.seen?.whole ?? definitions).tables.get(id ?? '');
  if (!table || !definitions.tables.has(table.id)) throw notFound(say('This table'));
  return table;
};

/** Routes that try a ripple and look for saves that it missed; ripples themselves are part of their table. */
export function rippleRoutes(app: FastifyInstance, services: Services): void {
  const { databases, mail } = services;
  route(app, services, routes.tryRipple, ({ params, body, definitions, caller }) => {
    const table = tableOf(definitions, params.table);
    const actor = { name: caller.login ?? '', through: { kind: 'tables', label: sayLater('Tables') } } as const;
    const saver = { actor, account: caller.login, definitions, mail, now: civilNow() };
    return tryRipple(databases.app, saver, table, body.ripple, body.record);
  });
  route(app, services, routes.missedByRipple, ({ params, definitions }) => {
    const whole = definitions.seen?.whole ?? definitions;
    return missedByRipple(databases.app, whole.tables, tableOf(definitions, params.table), params.ripple ?? '');
  });
}
