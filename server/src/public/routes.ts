import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { beginToken, findPage, prepared } from '../forms/index.ts';
import type { Services } from '../services.ts';
import { WORK_BITS } from '../spam/index.ts';
import { disclosedTables } from './disclose.ts';

export function publicRoutes(app: FastifyInstance, services: Services): void {
  route(app, services, routes.readPage, async ({ params, definitions }) => {
    const form = findPage(definitions, params.slug ?? '');
    const cabinet = definitions.cabinets.get(form.cabinet)?.label ?? '';
    return {
      id: form.id,
      version: form.liveVersion,
      begun: await beginToken(services.databases.app, form.id, form.liveVersion ?? 0),
      definition: form.live,
      tables: disclosedTables(prepared(definitions, form.live)),
      cabinet,
      office: definitions.office,
      workBits: WORK_BITS,
    };
  });
}
