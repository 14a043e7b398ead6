import { routes } from '@fiche/core/api';
import { formatMoment } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { ask } from '../database/index.ts';
import { notFound } from '../http/index.ts';
import type { Services } from '../services.ts';
import { putBackSave } from './putBack.ts';

/** Puts back what one save, or one import, wrote. */
export function putBackRoutes(app: FastifyInstance, services: Services): void {
  const { databases, mail } = services;
  route(app, services, routes.putBackSave, async ({ params, body, caller, definitions }) => {
    const transaction = Number(params.transaction);
    if (body.at !== undefined && Number.isNaN(Date.parse(body.at))) throw notFound(say('This save'));
    if (!Number.isSafeInteger(transaction) || transaction < 1) throw notFound(say('This save'));
    const [line] = await ask<{ at: string; account: string }>(
      databases.app,
      `SELECT at, account FROM ledger.line WHERE transaction = ? AND date_trunc('milliseconds', at) = coalesce(?::timestamptz, date_trunc('milliseconds', at)) ORDER BY id LIMIT 1`,
      [transaction, body.at ?? null],
    );
    if (!line) throw notFound(say('This save'));
    const label = `the save by ${line.account} of ${formatMoment(line.at)}`;
    const actor = { name: caller.login ?? '', through: { kind: 'putBack', label } } as const;
    const saver = { actor, account: caller.login, definitions, mail };
    return putBackSave(databases.app, saver, params.cabinet ?? '', { transaction, at: body.at }, body.do);
  });
}
