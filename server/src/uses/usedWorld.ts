import { calendarSchema } from '@fiche/core/api';
import { labelLayoutSchema } from '@fiche/core/labels';
import { say } from '@fiche/core/languages';
import type { TableId } from '@fiche/core/tables';
import type { UsedView, UsedWorld } from '@fiche/core/uses';
import { AS_LIST, type Listing } from '@fiche/core/views';
import { ask, type Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';

/** The definitions of a cabinet, among which uses are looked for; a view that somebody keeps for themselves has no name for others. */
export async function usedWorld(
  app: Database,
  definitions: Definitions,
  cabinet: string,
  login: string,
): Promise<UsedWorld> {
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
      label: shared || owner === login ? view.label : say('a view of {owner}', { owner }),
      listing: {
        ...definition,
        group: definition.group ?? null,
        frozen: definition.frozen ?? 1,
        shown: definition.shown ?? AS_LIST,
      },
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
    const named = account === login ? label : say('a calendar of {account}', { account });
    return { id, table, label: named, listing, dates: [begins, ...(ends === undefined ? [] : [ends])] };
  });
}
