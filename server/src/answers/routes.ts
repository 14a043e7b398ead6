import { Readable } from 'node:stream';
import { routes } from '@fiche/core/api';
import { holdsAddress } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { rightTo } from '@fiche/core/rights';
import type { RecordId, TableDefinition } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { type Call, callersLimit, route } from '../access/index.ts';
import { asActor } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { attachmentNamed } from '../formats/index.ts';
import { findForm } from '../forms/index.ts';
import { limit, notFound, Refusal } from '../http/index.ts';
import { findRecordsWhere } from '../records/index.ts';
import type { Services } from '../services.ts';
import { listedIds, seenView } from '../views/index.ts';
import { answersCsv } from './answersCsv.ts';
import { answerCounts, answersOf } from './list.ts';
import {
  countPersonalLinks,
  mailLinks,
  makeLinks,
  personalLinks,
  tableOfLinks,
  withdrawLink,
} from './personalLinks.ts';

/** Personal links that one form has at most, and that are made at once. */
const MOST_LINKS = 20_000;
/** Mails with links that one account may write within an hour. */
const MAILINGS_AN_HOUR = 20;

type CallOnForm = Pick<Call<unknown, unknown>, 'params' | 'definitions' | 'caller'>;

/** The answers of public pages, and their personal links, for the people of the office. */
export function answerRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;
  const answersAsked = ({ params, definitions }: CallOnForm) => {
    const form = findForm(definitions, params.form ?? '');
    const table = definitions.tables.get(form.draft.table);
    if (!table) throw notFound(say('The table of this form'));
    return { form: form.id, table, label: form.draft.label };
  };

  route(app, services, routes.listAnswers, async (call) => {
    const { form, table } = answersAsked(call);
    const { tables } = call.definitions;
    const asked = { form, table: table.id };
    return {
      answers: await answersOf(database, tables, asked, call.query),
      ...(await answerCounts(database, tables, asked)),
    };
  });
  route(app, services, routes.exportAnswers, async (call) => {
    const { form, table, label } = answersAsked(call);
    const { definitions, reply } = call;
    reply.type('text/csv; charset=utf-8').header('content-disposition', attachmentNamed(`${label}, answers`, 'csv'));
    const allowed = callersLimit(definitions, table, 'r', ({ role }) => rightTo(role, 'export', table));
    return Readable.from(answersCsv(services.databases.work.app, definitions.tables, { form, table }, allowed));
  });
  personalLinkRoutes(app, services);
}

function personalLinkRoutes(app: FastifyInstance, services: Services): void {
  const { app: database, owner } = services.databases;
  const linksOf = ({ params, definitions }: CallOnForm) => {
    const form = findForm(definitions, params.form ?? '');
    return { form: form.id, label: form.draft.label, slug: form.slug ?? '', table: tableOfLinks(definitions, form) };
  };
  const actorOf = ({ caller }: CallOnForm, label: string) =>
    ({ name: caller.login ?? '', through: { kind: 'tables', label: `Personal links to ${label}` } }) as const;

  route(app, services, routes.listPersonalLinks, async (call) => {
    const { form, table } = linksOf(call);
    const found = await personalLinks(
      database,
      call.definitions.tables,
      { form, table, now: civilNow() },
      { before: call.query.before, limit: call.query.limit },
    );
    return { ...found, total: await countPersonalLinks(database, form) };
  });
  route(app, services, routes.makePersonalLinks, async (call) => {
    const { form, table, label } = linksOf(call);
    const records = await recordsForLinks(services, call, table, call.body.view);
    const made = await asActor(owner, actorOf(call, label), (transaction) =>
      makeLinks(transaction, { form, table }, records, call.body, civilNow()),
    );
    return { made, had: records.length - made };
  });
  route(app, services, routes.withdrawPersonalLink, async (call) => {
    const { form, label } = linksOf(call);
    await withdrawLink(owner, actorOf(call, label), form, Number(call.params.id));
    return {};
  });
  route(app, services, routes.sendPersonalLinks, async (call) => {
    const { form, table, label, slug } = linksOf(call);
    const { body, request, caller, definitions } = call;
    const field = table.fields.find((one) => one.id === body.to);
    if (!field || !holdsAddress(field))
      throw new Refusal(422, say('Choose a field of {label} that holds an e-mail address.', { label: table.label }), [
        { path: 'to', rule: 'field', message: say('This is no e-mail field.') },
      ]);
    await limit(request, `links:${caller.login}`, MAILINGS_AN_HOUR, 3_600);
    const { links } = await personalLinks(
      database,
      definitions.tables,
      { form, table, now: civilNow() },
      { limit: MOST_LINKS },
    );
    const ids = links.filter((one) => one.state === 'open').map((one) => one.record);
    const records = await findRecordsWhere(database, definitions.tables, table.id, 'r.id = ANY(?)', [ids]);
    const addresses = new Map(
      records.flatMap(({ id, values }): [RecordId, string][] => {
        const address = values[field.id];
        return typeof address === 'string' && address !== '' ? [[id, address]] : [];
      }),
    );
    const of = { cabinet: table.cabinet, table, slug };
    const { subject, text } = body;
    return mailLinks(owner, actorOf(call, label), services.mail, of, links, { addresses, subject, text });
  });
}

/** The records for which links are made: those of a shared view, or all in use that the caller sees. Throws 404 and 422. */
async function recordsForLinks(
  { databases }: Services,
  { definitions, caller }: { readonly definitions: Definitions } & Pick<CallOnForm, 'caller'>,
  table: TableDefinition,
  view: number | null,
): Promise<RecordId[]> {
  const { app } = databases;
  const asking = definitions.seen?.asking ?? { account: caller.login ?? '', now: civilNow() };
  const seen = view === null ? undefined : await seenView(app, definitions, table.id, caller.login ?? '', view);
  if (view !== null && !seen) throw notFound(say('This view'));
  const page = { after: 0, limit: MOST_LINKS + 1 };
  const all = async (): Promise<RecordId[]> => {
    const where = 'r.archived_at IS NULL ORDER BY r.id LIMIT ?';
    return (await findRecordsWhere(app, definitions.tables, table.id, where, [page.limit])).map((one) => one.id);
  };
  const found = seen
    ? await listedIds(
        app,
        definitions.tables,
        table,
        { listing: seen.listing, search: '', archived: 'no' },
        { asking },
        page,
      )
    : await all();
  if (found.length <= MOST_LINKS) return found;
  throw new Refusal(
    422,
    say('At most {mostLinks} links are made at once. Choose a view that finds fewer records.', {
      mostLinks: MOST_LINKS,
    }),
  );
}
