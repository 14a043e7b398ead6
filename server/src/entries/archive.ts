import { routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { FastifyInstance } from 'fastify';
import { requireRecords, requireWriteRight, route } from '../access/index.ts';
import { constraintProblem } from '../constraints/index.ts';
import { requireInUse } from '../definitions/index.ts';
import { announce } from '../events/index.ts';
import { Refusal } from '../http/index.ts';
import { findRecord, updateRecord } from '../records/index.ts';
import { savingRecords } from '../ripples/index.ts';
import type { Services } from '../services.ts';

/** Takes one record out of use and back. */
export function archiveRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;
  for (const [contract, archive] of [
    [routes.archiveRecord, true],
    [routes.restoreRecord, false],
  ] as const)
    route(app, services, contract, async ({ params, body, caller, definitions }) => {
      const table = params.table ?? '';
      const { tables } = definitions;
      const written = tables.get(table);
      if (written) {
        requireWriteRight(definitions, written, 'archive');
        requireInUse(definitions, written.cabinet, [written]);
      }
      const actor = {
        name: caller.login ?? '',
        through: { kind: 'table', label: tables.get(table)?.label ?? table },
      } as const;
      const saver = { actor, account: caller.login, definitions, mail: services.mail };
      return savingRecords(databases.app, saver, async (transaction) => {
        if (written) await requireRecords(transaction, definitions, written, 'archive', [Number(params.id)]);
        const record = await findRecord(transaction, tables, table, Number(params.id), undefined, true);
        if (record.version !== body.version)
          throw new Refusal(
            409,
            say('{changedBy} has changed this record meanwhile. Look at it again first.', {
              changedBy: record.stamp.changedBy,
            }),
            [],
            { current: record },
          );
        if (record.archived !== archive)
          await updateRecord(transaction, table, record.id, { archived_at: archive ? new Date().toISOString() : null });
        await announce(transaction, actor.name, table, record.id);
        return findRecord(transaction, tables, table, record.id);
      }).catch((error: unknown) => {
        const definition = tables.get(table);
        throw (definition && constraintProblem(definition, error)) ?? error;
      });
    });
}
