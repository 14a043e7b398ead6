import { Readable } from 'node:stream';
import { routes } from '@fiche/core/api';
import { isWhole, subformsOf } from '@fiche/core/forms';
import { say, sayLater } from '@fiche/core/languages';
import { rightTo } from '@fiche/core/rights';
import type { TableId } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { hasRight, route } from '../access/index.ts';
import { asActor, type Databases, ownerReadPool } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { attachmentNamed } from '../formats/index.ts';
import { limit, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import type { Worker } from '../tasks/index.ts';
import { changedByOthers } from './changedByOthers.ts';
import { everythingHeld } from './everything.ts';
import { ledgerFile } from './ledgerFile.ts';
import { linesFile } from './linesFile.ts';
import { keepReceiptAddress, receiptAddress } from './mailReceipts.ts';
import { ledgerOverview } from './overview.ts';
import { newestReceipt } from './receipts.ts';
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
  route(app, services, routes.changedByOthers, async ({ params, caller, definitions }) => ({
    lines: await changedByOthers(database, definitions, params.cabinet ?? '', caller.login ?? ''),
  }));
  route(app, services, routes.readLedger, ({ params, query, definitions }) =>
    ledgerLines(database, definitions, params.cabinet ?? '', query),
  );
  route(app, services, routes.ledgerOverview, ({ params, query, definitions }) =>
    ledgerOverview(services.databases.work.app, definitions, params.cabinet ?? '', query),
  );
  route(app, services, routes.exportLines, async ({ params, query, definitions, reply }) => {
    const cabinet = params.cabinet ?? '';
    requireExport(definitions, query.table);
    const label = definitions.cabinets.get(cabinet)?.label ?? '';
    reply
      .type(query.as === 'csv' ? 'text/csv; charset=utf-8' : 'application/jsonl')
      .header('content-disposition', attachmentNamed(`Changes in ${label}`, query.as));
    return Readable.from(linesFile(services.databases.work.app, definitions, cabinet, query));
  });
  route(app, services, routes.newestReceipt, async ({ caller, request, definitions, reply }) => {
    requireWholeSight(definitions);
    await limit(request, `receipt:${caller.login}`, 60, 3_600);
    const receipt = await newestReceipt(services.databases.work.owner);
    reply.header('content-disposition', attachmentNamed(`Receipt of seal ${receipt.seal.number}`, 'json'));
    return receipt;
  });
  route(app, services, routes.readReceiptMail, async ({ params, definitions }) => {
    requireWholeSight(definitions);
    return { address: await receiptAddress(database, params.cabinet ?? '') };
  });
  route(app, services, routes.setReceiptMail, async ({ params, body, caller, definitions }) => {
    requireWholeSight(definitions);
    const actor = { name: caller.login ?? '', through: { kind: 'tables', label: sayLater('Ledger') } } as const;
    await asActor(services.databases.owner, actor, (owner) =>
      keepReceiptAddress(owner, params.cabinet ?? '', body.address),
    );
    return { address: body.address };
  });
  route(app, services, routes.exportLedger, async ({ params, caller, request, definitions, reply }) => {
    requireWholeSight(definitions);
    requireExport(definitions);
    await limit(request, `ledger:${caller.login}`, 20, 3_600);
    const cabinet = definitions.cabinets.get(params.cabinet ?? '')?.label ?? '';
    const tables = [...definitions.tables.keys()];
    reply.type('application/jsonl').header('content-disposition', attachmentNamed(`Ledger of ${cabinet}`, 'jsonl'));
    return Readable.from(ledgerFile(services.databases.work.owner, { cabinet, tables }));
  });
  route(app, services, routes.verifyLedger, async ({ params, body, caller, request, definitions }) => {
    // What does not fit is told with the values that do not.
    requireWholeSight(definitions);
    // It reads everything there is.
    await limit(request, `verify:${caller.login}`, 20, 3_600);
    return services.tasks.begin({
      cabinet: params.cabinet ?? '',
      kind: 'verifyLedger',
      label: say('Verify the ledger'),
      plan: body,
      account: caller.login ?? '',
    });
  });
}

/** Refuses lines of tables whose records the role does not export, all of them. Throws 403. */
function requireExport({ tables, seen }: Definitions, table?: TableId): void {
  const kept = [...tables.values()].find(
    (one) => (table ?? one.id) === one.id && seen && rightTo(seen.role, 'export', one) !== 'yes',
  );
  if (kept)
    throw new Refusal(
      403,
      say('Your role does not export all records of {label}. Choose a table of which it does.', { label: kept.label }),
    );
}

/** Refuses a role from which some records or fields are hidden. Throws 403. */
function requireWholeSight({ tables, seen }: Definitions): void {
  if (tables !== seen?.whole.tables)
    throw new Refusal(403, say('Only a role that sees every record and field verifies the ledger.'));
}

/** Work of this feature in the background. */
export const historyWork = (databases: Databases): Record<string, Worker> => ({
  verifyLedger: async ({ plan, progress }) => {
    const { seal } = plan as { seal?: string };
    return verifyLedger(await ownerReadPool(databases), {
      ...(seal === undefined ? {} : { knownSeal: seal }),
      progress,
    });
  },
});
