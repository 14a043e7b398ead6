import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { findForm, prepared, versionOf } from '../forms/index.ts';
import { notFound } from '../http/index.ts';
import { findRecord, linesOfForm, originsOfRecord, placeOf } from '../records/index.ts';
import type { Services } from '../services.ts';

/** Reads one record to be looked at or changed: its place, where its values came from, and the lines that a form shows. */
export function openRecordRoute(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;
  route(app, services, routes.readRecord, async ({ params, query, definitions }) => {
    const table = params.table ?? '';
    const record = await findRecord(database, definitions.tables, table, Number(params.id));
    const origins = await originsOfRecord(database, definitions.tables, table, record.id);
    const opened = { ...record, origins, place: await placeOf(database, table, record.id) };
    if (query.form === undefined) return opened;
    const row = findForm(definitions, query.form);
    if (row.table !== table) throw notFound('This form over that table');
    const definition =
      query.version === undefined ? row.draft : (await versionOf(database, row, query.version)).definition;
    const form = prepared(definitions, definition);
    return form.subforms.size === 0 ? opened : { ...opened, lines: await linesOfForm(database, form, record.id) };
  });
}
