import { routes } from '@fiche/core/api';
import { isWhole, subformsOf } from '@fiche/core/forms';
import type { FastifyInstance } from 'fastify';
import { hasRight, route } from '../access/index.ts';
import { limit, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import type { Worker } from '../tasks/index.ts';
import { everythingHeld } from './everything.ts';
import { ledgerLines, recordLines } from './store.ts';
import { verifyLedger } from './verify.ts';

export function historyRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;
  route(app, services, routes.recordHistory, async ({ params, query, definitions }) => {
    const form = query.form === undefined ? undefined : definitions.forms.get(query.form);
    const builds = hasRight(definitions, 'build');
    const definition = form?.table === params.table ? (form?.live ?? (builds ? form?.draft : null)) : undefined;
    const subforms = (definition ? subformsOf(definition) : []).filter((one) =>
      isWhole(one, params.table ?? '', definitions.tables),
    );
    const { before } = query;
    return recordLines(database, definitions, params.table ?? '', Number(params.id), { subforms, before });
  });
  route(app, services, routes.everythingHeld, ({ params, definitions }) =>
    everythingHeld(database, definitions, params.table ?? '', Number(params.id)),
  );
  route(app, services, routes.readLedger, ({ params, query, definitions }) =>
    ledgerLines(database, definitions, params.cabinet ?? '', query),
  );
  route(app, services, routes.verifyLedger, async ({ params, body, caller, request, definitions }) => {
    // What does not fit is told with the values that do not.
    if (definitions.tables !== definitions.seen?.whole.tables)
      throw new Refusal(403, 'Only a role that sees every record and field verifies the ledger.');
    // It reads everything there is.
    await limit(request, `verify:${caller.login}`, 20, 3_600);
    return services.tasks.begin({
      cabinet: params.cabinet ?? '',
      kind: 'verifyLedger',
      label: 'Verify the ledger',
      plan: body,
      account: caller.login ?? '',
    });
  });
}

/** Work of this feature in the background. */
export const historyWork: Record<string, Worker> = {
  verifyLedger: async ({ databases, plan, progress }) => {
    const { seal } = plan as { seal?: string };
    return verifyLedger(databases.owner, { ...(seal === undefined ? {} : { knownSeal: seal }), progress });
  },
};
