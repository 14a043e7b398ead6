import { routes } from '@fiche/core/api';
import { linksSeveral } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import { findField, type TableDefinition, typeOf } from '@fiche/core/tables';
import { type UsedThing, usesOf } from '@fiche/core/uses';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { ask, type Database } from '../database/index.ts';
import { notFound, unacceptable } from '../http/index.ts';
import type { Services } from '../services.ts';
import { usedWorld } from './usedWorld.ts';

interface Wanted {
  readonly table?: string | undefined;
  readonly field?: string | undefined;
  readonly option?: string | undefined;
  readonly view?: number | undefined;
  readonly form?: string | undefined;
}

/** What a request asks about. Throws 422 where it names nothing. */
function thingOf({ table, field, option, view, form }: Wanted): UsedThing {
  if (view !== undefined) return { kind: 'view', view };
  if (form !== undefined) return { kind: 'form', form };
  if (table === undefined)
    throw unacceptable([{ path: 'table', rule: 'required', message: say('Name a table, a view or a form.') }]);
  if (field === undefined) return { kind: 'table', table };
  return option === undefined ? { kind: 'field', table, field } : { kind: 'option', table, field, option };
}

/** Where definitions are used, for whoever changes them. */
export function useRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;
  route(app, services, routes.findUses, async ({ params, query, definitions, caller }) => {
    const cabinet = params.cabinet ?? '';
    const thing = thingOf(query);
    const table = 'table' in thing ? definitions.tables.get(thing.table) : undefined;
    const field = 'field' in thing ? findField(table, thing.field) : undefined;
    if ('table' in thing && table?.cabinet !== cabinet) throw notFound(say('This table'));
    if ('field' in thing && !field) throw notFound(say('This field'));
    if (thing.kind === 'form' && definitions.forms.get(thing.form)?.cabinet !== cabinet)
      throw notFound(say('This form'));
    const world = await usedWorld(databases.app, definitions, cabinet, caller.login ?? '');
    if (thing.kind === 'view' && !world.views.some((one) => one.id === thing.view)) throw notFound(say('This view'));
    return {
      uses: usesOf(thing, world).map(({ place, words }) => ({ place, words: [...words] })),
      records: table ? await countRecords(databases.app, table, thing) : null,
    };
  });
}

/** The records that would miss a thing, archived ones too. */
async function countRecords(app: Database, table: TableDefinition, thing: UsedThing): Promise<number> {
  const field = 'field' in thing ? findField(table, thing.field) : undefined;
  const column = field && quoted(field.id);
  const [where, values]: [string, string[]] =
    thing.kind === 'option' && field
      ? linksSeveral(field) || typeOf(field).family === 'choices'
        ? [`? = ANY(${column})`, [thing.option]]
        : [`${column}::text = ?`, [thing.option]]
      : column
        ? [`${column} IS NOT NULL`, []]
        : ['TRUE', []];
  const [row] = await ask<{ n: number }>(app, `SELECT count(*) AS n FROM ${relation(table.id)} WHERE ${where}`, values);
  return Number(row?.n ?? 0);
}
