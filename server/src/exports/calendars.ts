import { randomBytes } from 'node:crypto';
import { Readable } from 'node:stream';
import { type CalendarDefinition, type CalendarView, calendarSchema, routes } from '@fiche/core/api';
import { exportSettingsSchema } from '@fiche/core/exports';
import { say, sayLater } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { rightTo } from '@fiche/core/rights';
import type { TableDefinition, TableId, Tables } from '@fiche/core/tables';
import { columnAt, listingProblems } from '@fiche/core/views';
import type { FastifyInstance } from 'fastify';
import { callersLimit, memberDefinitions, route, tokenHash } from '../access/index.ts';
import { asActor, type Database, exportPoolAt, type Transaction } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { FORMATS } from '../formats/index.ts';
import { addressOf, limit, notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { type Asked, requireReadable, tableOf } from '../views/index.ts';
import { prepareFile, type RecordsFile, writeFile } from './recordsFile.ts';

/** Addresses of one table that one account can have. */
const MOST_CALENDARS = 50;
/** How often all calendars may be read from one address in ten minutes; programs read one every few minutes. */
const READINGS = 600;
const SECONDS = 600;

interface StoredCalendar {
  readonly id: number;
  readonly table_id: TableId;
  readonly account: string;
  readonly what: unknown;
  readonly made_at: string;
  readonly revoked_at: string | null;
}

/** Private addresses from which calendar programs read a list: made, listed and revoked by their account, read by whoever has one. */
export function calendarRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;
  const asCaller = <T>({ caller }: Asked, work: (owner: Transaction) => Promise<T>): Promise<T> =>
    asActor(
      databases.owner,
      { name: caller.login ?? '', through: { kind: 'tables', label: sayLater('Calendars') } },
      work,
    );

  route(app, services, routes.listCalendars, async (call) => {
    const rows = await calendarsOf(databases.app, tableOf(call).id, call.caller.login ?? '');
    return { calendars: rows.map((row) => viewOf(row, tableOf(call), call.definitions.tables)) };
  });
  route(app, services, routes.createCalendar, async (call) => {
    const [table, login, tables] = [tableOf(call), call.caller.login ?? '', call.definitions.tables];
    if (call.caller.token)
      throw new Refusal(403, say('A program has a token of its own: it needs no private address.'));
    requireReadable(call.body.listing, { table, tables });
    prepareFile(fileOf(services, table, tables, call.body));
    if ((await calendarsOf(databases.app, table.id, login)).length >= MOST_CALENDARS)
      throw new Refusal(
        409,
        say('You have {mostCalendars} calendar addresses of this table. Revoke some that you do not need.', {
          mostCalendars: MOST_CALENDARS,
        }),
      );
    const token = randomBytes(24).toString('base64url');
    const row = await asCaller(call, async (owner) => {
      const [made] = await owner('fiche.calendar_address')
        .insert({ table_id: table.id, account: login, token_hash: tokenHash(token), what: JSON.stringify(call.body) })
        .returning('*');
      return made as StoredCalendar;
    });
    return { ...viewOf(row, table, tables), address: `${services.mail.publicUrl}/api/calendars/${token}.ics` };
  });
  route(app, services, routes.revokeCalendar, (call) =>
    asCaller(call, async (owner) => {
      const revoked = await owner('fiche.calendar_address')
        .where({
          id: Number(call.params.calendar),
          table_id: tableOf(call).id,
          account: call.caller.login,
          revoked_at: null,
        })
        .update({ revoked_at: owner.fn.now() });
      if (revoked === 0) throw notFound(say('This calendar address'));
      return {};
    }),
  );
  route(app, services, routes.readCalendar, async ({ params, walPosition, request, reply }) => {
    await limit(request, `calendars:${addressOf(request.ip)}`, READINGS, SECONDS);
    const file = await calendarOf(services, (params.token ?? '').replace(/\.ics$/, ''));
    reply.type(FORMATS.ics.type);
    return Readable.from(writeFile(await exportPoolAt(databases, walPosition), file.records, file.reader), {
      objectMode: false,
    });
  });
}

const calendarsOf = (app: Database, table: TableId, account: string): Promise<StoredCalendar[]> =>
  app('fiche.calendar_address').where({ table_id: table, account, revoked_at: null }).orderBy('id');

function viewOf({ id, what, made_at }: StoredCalendar, table: TableDefinition, tables: Tables): CalendarView {
  const { label, begins, ends } = calendarSchema.parse(what);
  const named = (path: string): string => columnAt(tables, table.id, path)?.label ?? path;
  const dates = ends === undefined ? named(begins) : `${named(begins)} to ${named(ends)}`;
  return { id: Number(id), label, dates, madeAt: made_at };
}

const fileOf = (
  { mail }: Services,
  table: TableDefinition,
  tables: Tables,
  { label, listing, search, begins, ends }: CalendarDefinition,
): RecordsFile => ({
  table,
  tables,
  query: { listing, search, archived: 'no' },
  settings: exportSettingsSchema.parse({ format: 'ics', begins, ends }),
  title: label,
  publicUrl: mail.publicUrl,
});

/** What a private address shows now, by the rights that its account has now. Throws 404 and, for one that was revoked, 410. */
async function calendarOf(services: Services, token: string) {
  const { app, owner } = services.databases;
  const row: StoredCalendar | undefined = await app('fiche.calendar_address')
    .where({ token_hash: tokenHash(token) })
    .first();
  if (!row) throw notFound(say('This calendar address'));
  const gone = (why: string): Refusal =>
    new Refusal(410, say('This calendar address is not in use any more: {why}', { why }));
  if (row.revoked_at !== null)
    throw gone(say('it was revoked. Make another one in Fiche, and give it to your calendar program.'));
  const { closed_at } = await app('fiche.account').where({ login: row.account }).first('closed_at');
  const cabinet = (await app('fiche.table').where({ id: row.table_id }).first('cabinet')).cabinet as string;
  const definitions = closed_at === null ? await memberDefinitions(owner, cabinet, row.account) : undefined;
  const table = definitions?.tables.get(row.table_id);
  if (!definitions || !table || rightToAny(definitions, table) === 'no')
    throw gone(say('its account does not see these records any more.'));
  const what = calendarSchema.parse(row.what);
  const records = fileOf(services, table, definitions.tables, what);
  if (listingProblems(what.listing, table, definitions.tables).length > 0)
    throw gone(say('it reads a field that is not there any more. Make another one in Fiche.'));
  const asking = definitions.seen?.asking ?? { account: row.account, now: civilNow() };
  const may = callersLimit(definitions, table, 'r', ({ role }) => rightTo(role, 'export', table));
  return { records, reader: { asking, limit: may } };
}

const rightToAny = ({ seen }: Definitions, table: TableDefinition) =>
  seen ? rightTo(seen.role, 'export', table) : 'yes';
