import { routes } from '@fiche/core/api';
import { fieldType, linksSeveral } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { relation } from '@fiche/core/queries';
import { findField } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { notFound, unacceptable } from '../http/index.ts';
import type { Services } from '../services.ts';
import { addField, copyFields } from './addField.ts';
import { checkBackfill } from './backfill.ts';
import { type Building, checkRevision } from './building.ts';
import { changeField, type FieldChange } from './changeField.ts';
import { retireField, returnField } from './retireField.ts';

/** Routes that add, change and retire the fields of a table. */
export function fieldRoutes(app: FastifyInstance, services: Services, { build, current, begin }: Building): void {
  const { databases } = services;
  route(app, services, routes.addField, async ({ params, body: { field, backfill }, caller }) => {
    const id = params.table ?? '';
    const table = await current(id);
    const { rows } = await databases.owner.raw<{ rows: unknown[] }>(`SELECT 1 FROM ${relation(id)} LIMIT 1`);
    if (backfill.kind === 'nothing' || rows.length === 0)
      return { table: await build(caller, (owner) => addField(owner, id, field)), task: null };
    if (table.fields.some((one) => one.label.toLowerCase() === field.label.toLowerCase()))
      throw unacceptable([
        {
          path: 'label',
          rule: 'label',
          message: say('“{label}” is there already. Give this one another label.', { label: field.label }),
        },
      ]);
    checkBackfill(table, { field, backfill });
    return begin(table, caller, 'backfillField', `${table.label}: adding ${field.label}`, { field, backfill });
  });
  route(app, services, routes.copyFields, ({ params, body, caller }) =>
    build(caller, (owner) => copyFields(owner, params.table ?? '', body.from, body.fields)),
  );
  route(app, services, routes.changeField, async ({ params, body, caller }) => {
    const table = await current(params.table ?? '');
    const field = findField(table, params.field ?? '');
    if (!field) throw notFound(say('This field'));
    checkRevision(table, body.revision);
    const { required, unique, ...rest } = body;
    const off: FieldChange = {
      ...rest,
      ...(required === false ? { required } : {}),
      ...(unique === false ? { unique } : {}),
    };
    if ((required === true || unique === true) && (!fieldType(field.type).editable || linksSeveral(field)))
      throw unacceptable([
        {
          path: 'type',
          rule: 'fixed',
          message: say('A {word} is neither required nor unique by choice.', { word: say(fieldType(field.type).word) }),
        },
      ]);
    const done = await build(caller, (owner) => changeField(owner, table.id, field.id, off));
    const on = (['required', 'unique'] as const).find((kind) => body[kind] === true && !field[kind]);
    if (!on) return { table: done, task: null };
    return begin(table, caller, 'hold', `${table.label}: making ${field.label} ${on}`, { kind: on, field: field.id });
  });
  route(app, services, routes.retireField, ({ params, caller }) =>
    build(caller, (owner) => retireField(owner, params.table ?? '', params.field ?? '')),
  );
  route(app, services, routes.returnField, ({ params, caller }) =>
    build(caller, (owner) => returnField(owner, params.table ?? '', params.field ?? '')),
  );
}
