import { routes } from '@fiche/core/api';
import { isWhole, subformsOf } from '@fiche/core/forms';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { limit, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { ledgerLines, recordLines } from './store.ts';
import { verifyLedger } from './verify.ts';

export function historyRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;
  route(app, services, routes.recordHistory, async ({ params, query, definitions }) => {
    const form = query.form === undefined ? undefined : definitions.forms.get(query.form);
    const definition = form?.table === params.table ? (form?.live ?? form?.draft) : undefined;
    const subforms = (definition ? subformsOf(definition) : []).filter((one) =>
      isWhole(one, params.table ?? '', definitions.tables),
    );
    return { lines: await recordLines(database, definitions, params.table ?? '', Number(params.id), subforms) };
  });
  route(app, services, routes.readLedger, ({ params, query, definitions }) =>
    ledgerLines(database, definitions, params.cabinet ?? '', query),
  );
  route(app, services, routes.verifyLedger, async ({ query, caller }) => {
    if (![...caller.memberships.values()].some((one) => one.rights.includes('ledger')))
      throw new Refusal(403, 'Your role does not allow the ledger. Ask an administrator for the right to “ledger”.');
    // It reads everything there is.
    await limit(database, `verify:${caller.login}`, 20, 3_600);
    return verifyLedger(database, query.seal);
  });
}
