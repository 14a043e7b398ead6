import { routes } from '@fiche/core/api';
import type { DefinedForm } from '@fiche/core/forms';
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
      definition: ofPage(form.live),
      tables: disclosedTables(prepared(definitions, form.live)),
      cabinet,
      office: definitions.office,
      workBits: WORK_BITS,
    };
  });
}

/** A form as a public page runs it: what colleagues see next, and in which order, is not for strangers. */
const ofPage = ({ after: _after, starts: _starts, ...form }: DefinedForm): DefinedForm => ({ ...form, view: null });
