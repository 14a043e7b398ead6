import { routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { constraintMisfit, constraintWords, findField, type TableDefinition } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { unacceptable } from '../http/index.ts';
import type { Services } from '../services.ts';
import { type Building, checkRevision } from './building.ts';
import { removeConstraint } from './enforce.ts';
import { changeTable } from './store.ts';
import { tryHold } from './trial.ts';

/** Routes of the rules that the database holds: tried, added, removed. */
export function ruleRoutes(app: FastifyInstance, services: Services, { build, current, begin }: Building): void {
  const { databases } = services;
  route(app, services, routes.tryHold, async ({ params, body, definitions, caller }) => {
    const table = definitions.tables.get(params.table ?? '');
    if (table && body.kind === 'constraint') refuseMisfit(table, body.constraint);
    const found = await tryHold(databases.app, definitions.tables, params.table ?? '', body, caller.login);
    return { ...found, examples: [...found.examples] };
  });
  route(app, services, routes.addConstraint, async ({ params, body: { constraint, revision }, caller }) => {
    const table = await current(params.table ?? '');
    checkRevision(table, revision);
    refuseMisfit(table, constraint);
    if (table.constraints.some((one) => one.id === constraint.id))
      throw unacceptable([
        { path: 'constraint.id', rule: 'id', message: say('A rule of this name is there already.') },
      ]);
    const words = constraintWords(constraint, (id) => findField(table, id)?.label ?? id);
    return begin(table, caller, 'hold', `${table.label}: ${words}`, { kind: 'constraint', constraint });
  });
  route(app, services, routes.removeConstraint, ({ params, caller }) =>
    build(caller, async (owner) => {
      await removeConstraint(owner, params.table ?? '', params.constraint ?? '');
      return changeTable(owner, params.table ?? '', {});
    }),
  );
}

function refuseMisfit(table: TableDefinition, constraint: Parameters<typeof constraintMisfit>[1]): void {
  const why = constraintMisfit(table, constraint);
  if (why) throw unacceptable([{ path: 'constraint', rule: 'constraint', message: why }]);
}
