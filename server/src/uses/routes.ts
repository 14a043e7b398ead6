import { calendarSchema, routes } from '@fiche/core/api';
import { linksSeveral } from '@fiche/core/fields';
import { labelLayoutSchema } from '@fiche/core/labels';
import { quoted, relation } from '@fiche/core/queries';
import { findField, type TableDefinition, type TableId, typeOf } from '@fiche/core/tables';
import { type UsedThing, type UsedView, type UsedWorld, usesOf } from '@fiche/core/uses';
import type { Listing } from '@fiche/core/views';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { ask, type Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { notFound, unacceptable } from '../http/index.ts';
import type { Services } from '../services.ts';

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
    throw unacceptable([{ path: 'table', rule: 'required', message: 'Name a table, a view or a form.' }]);
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
    if ('table' in thing && table?.cabinet !== cabinet) throw notFound('This table');
    if ('field' in thing && !field) throw notFound('This field');
    if (thing.kind === 'form' && definitions.forms.get(thing.form)?.cabinet !== cabinet) throw notFound('This form');
    const world = await worldOf(databases.app, definitions, cabinet, caller.login ?? '');
    if (thing.kind === 'view' && !world.views.some((one) => one.id === thing.view)) throw notFound('This view');
    return {
      uses: usesOf(thing, world).map(({ place, words }) => ({ place, words: [...words] })),
      records: table ? await countRecords(databases.app, table, thing) : null,
    };
  });
}

/** The definitions of a cabinet; a view that somebody keeps for themselves has no name for others. */
async function worldOf(app: Database, definitions: Definitions, cabinet: string, login: string): Promise<UsedWorld> {
  const tables = new Map([...definitions.tables].filter(([, table]) => table.cabinet === cabinet));
  const rows = await ask<Omit<UsedView, 'listing'> & { definition: Listing; owner: string; shared: boolean }>(
    app,
    'SELECT id, table_id AS "table", label, owner, shared, definition FROM fiche.view WHERE table_id = ANY(?) ORDER BY label, id',
    [[...tables.keys()]],
  );
  return {
    tables,
    forms: [...definitions.forms.values()].filter((form) => form.cabinet === cabinet && !form.archived),
    views: rows.map(({ definition, owner, shared, ...view }) => ({
      ...view,
      label: shared || owner === login ? view.label : `a view of ${owner}`,
      listing: { ...definition, group: definition.group ?? null, frozen: definition.frozen ?? 1 },
    })),
    roles: [...(definitions.roles.get(cabinet)?.values() ?? [])],
    labels: await labelsIn(app, [...tables.keys()]),
    calendars: await calendarsIn(app, [...tables.keys()], login),
  };
}

/** The label layouts of some tables. */
async function labelsIn(app: Database, tables: readonly TableId[]): Promise<UsedWorld['labels']> {
  const rows = await ask<{ id: number; table: TableId; label: string; definition: unknown }>(
    app,
    'SELECT id, table_id AS "table", label, definition FROM fiche.label_layout WHERE table_id = ANY(?) ORDER BY label, id',
    [tables],
  );
  return rows.map(({ definition, ...labels }) => ({ ...labels, layout: labelLayoutSchema.parse(definition) }));
}

/** The private calendar addresses of some tables that are in use; one of somebody else has no name. */
async function calendarsIn(app: Database, tables: readonly TableId[], login: string): Promise<UsedWorld['calendars']> {
  const rows = await ask<{ id: number; table: TableId; account: string; what: unknown }>(
    app,
    'SELECT id, table_id AS "table", account, what FROM fiche.calendar_address WHERE table_id = ANY(?) AND revoked_at IS NULL ORDER BY id',
    [tables],
  );
  return rows.map(({ id, table, account, what }) => {
    const { label, listing, begins, ends } = calendarSchema.parse(what);
    const named = account === login ? label : `a calendar of ${account}`;
    return { id, table, label: named, listing, dates: [begins, ...(ends === undefined ? [] : [ends])] };
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
