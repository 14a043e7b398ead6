import { routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { type Call, requireWriteRight, route } from '../access/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { actionOf, openPlan } from './check.ts';
import { addPlan, findPlan, findWritten, isPutBack, kindOfPutBack, type PlanRow, type StoredPlan } from './plans.ts';
import { changeView } from './preview.ts';

type Asked = Pick<Call<unknown, unknown>, 'params' | 'caller' | 'definitions'>;

const tableOf = ({ params, definitions }: Asked): TableDefinition => {
  const table = definitions.tables.get(params.table ?? '');
  if (!table) throw notFound(say('This table'));
  return table;
};
const numbered = ({ params }: Asked): number => Number(params.change);

/** Changes of many records: planned and checked, looked at, written, put back. */
export function changeRoutes(app: FastifyInstance, services: Services): void {
  const { databases, tasks } = services;

  /** A plan of the caller. Throws 404. */
  const planOf = (asked: Asked): Promise<PlanRow> =>
    findPlan(databases.app, tableOf(asked).id, asked.caller.login ?? '', numbered(asked));

  /** Keeps a plan that can be carried out, and begins its check. */
  const begin = async (asked: Asked, plan: StoredPlan) => {
    const table = tableOf(asked);
    const account = asked.caller.login ?? '';
    const row = { cabinet: table.cabinet, table: table.id, account, plan };
    // What cannot be is refused at once, before anything goes on in the background.
    await openPlan(databases.app, {
      ...row,
      id: 0,
      state: 'planned',
      counts: null,
      preview: null,
      tableRevision: null,
      columns: null,
    });
    const id = await addPlan(databases.owner, row);
    const label = isPutBack(plan)
      ? say('Checking what is put back in {label}', { label: table.label })
      : say('Checking a change of {label}', { label: table.label });
    const task = await tasks.begin(
      { cabinet: table.cabinet, table: table.id, kind: 'checkChange', label, plan: { id }, account },
      300,
    );
    return { id, task };
  };

  route(app, services, routes.planChange, (call) => begin(call, call.body));

  route(app, services, routes.readChange, async (call) =>
    changeView(databases.app, call.definitions, tableOf(call), await planOf(call)),
  );

  route(app, services, routes.runChange, async (call) => {
    const table = tableOf(call);
    const row = await planOf(call);
    if (row.state === 'planned') throw new Refusal(409, say('Check the change first.'));
    const task = {
      cabinet: table.cabinet,
      table: table.id,
      kind: 'writeChange',
      label: isPutBack(row.plan)
        ? say('Putting back in {label}', { label: table.label })
        : say('Changing {label}', { label: table.label }),
      plan: { id: row.id, records: call.body.records },
      account: row.account,
    };
    return tasks.begin(task, 300);
  });

  route(app, services, routes.putBackChange, async (call) => {
    const table = tableOf(call);
    const written = await findWritten(databases.app, table.id, numbered(call));
    if (!written) throw notFound(say('This change'));
    requireWriteRight(call.definitions, table, actionOf(await kindOfPutBack(databases.app, table.id, written.what)));
    return begin(call, { putBack: written.id, reasons: call.body.reasons });
  });

  route(app, services, routes.putBackPart, async (call) => {
    const { reasons, at, part } = call.body;
    const transaction = Number(call.params.transaction);
    if (!Number.isSafeInteger(transaction)) throw notFound(say('This save'));
    requireWriteRight(call.definitions, tableOf(call), part === 'added' ? 'archive' : 'change');
    return begin(call, { putBack: null, of: { transaction, at, part }, reasons });
  });
}
