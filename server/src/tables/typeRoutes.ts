import { routes } from '@fiche/core/api';
import { fieldType, withArticle } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { findField } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { loadDefinitions, refuseForeignTables, withinCabinet } from '../definitions/index.ts';
import { notFound } from '../http/index.ts';
import type { Services } from '../services.ts';
import { type Building, checkRevision } from './building.ts';
import { checkTypeChange } from './changeType.ts';
import { checkLiveForms } from './liveForms.ts';
import { readSettings } from './readSettings.ts';
import { checkLevels, fieldLevels, withLevel } from './takeLevels.ts';
import { previewType } from './trial.ts';

/** Routes that give fields another type, one by one or as the levels of an option list. */
export function typeRoutes(app: FastifyInstance, services: Services, { current, begin }: Building): void {
  const { databases } = services;
  const readType = (body: { type: string; settings: Readonly<Record<string, unknown>>; matchOn?: string }) => ({
    type: body.type,
    settings: readSettings(body.type, body.settings),
    ...(body.matchOn === undefined ? {} : { matchOn: body.matchOn }),
  });
  route(app, services, routes.previewType, async ({ params, body, definitions }) => {
    const table = definitions.tables.get(params.table ?? '');
    if (!table) throw notFound(say('This table'));
    const to = readType(body);
    checkTypeChange(table, { field: params.field ?? '', ...to, unconverted: 'refuse' });
    const found = await previewType(databases.app, definitions.tables, table.id, params.field ?? '', to);
    return { ...found, failing: [...found.failing] };
  });
  route(app, services, routes.changeType, async ({ params, body, caller }) => {
    const table = await current(params.table ?? '');
    const field = findField(table, params.field ?? '');
    checkRevision(table, body.revision);
    const plan = { field: params.field ?? '', ...readType(body), unconverted: body.unconverted };
    const now = withinCabinet(await loadDefinitions(databases.owner), table.cabinet);
    refuseForeignTables(now.tables, plan.settings, 'settings');
    checkTypeChange(table, plan);
    const { type, settings } = plan;
    const fields = table.fields.map((one) => (one.id === plan.field ? { ...one, type, settings } : one));
    checkLiveForms(now.tables, now.forms, { ...table, fields });
    return begin(
      table,
      caller,
      'changeFieldType',
      `${table.label}: ${field?.label} becomes ${withArticle(fieldType(body.type))}`,
      plan,
    );
  });

  route(app, services, routes.fieldLevels, async ({ params, definitions }) => {
    const table = definitions.tables.get(params.table ?? '');
    if (!table) throw notFound(say('This table'));
    return { levels: await fieldLevels(databases.app, definitions.tables, table) };
  });
  route(app, services, routes.takeLevels, async ({ params, body: { levels, revision }, caller }) => {
    const table = await current(params.table ?? '');
    checkRevision(table, revision);
    const { tables, forms } = withinCabinet(await loadDefinitions(databases.owner), table.cabinet);
    checkLevels(tables, table, levels);
    const fields = table.fields.map((field) => {
      const level = levels.find((one) => one.field === field.id);
      return level ? withLevel(field, level) : field;
    });
    checkLiveForms(tables, forms, { ...table, fields });
    const labels = levels.map((one) => findField(table, one.field)?.label).join(', ');
    return begin(table, caller, 'takeLevels', `${table.label}: ${labels} become choices from an option list`, {
      levels,
    });
  });
}
