import type { DefinedForm, PreparedForm } from '@fiche/core/forms';
import type { Through } from '@fiche/core/history';
import { languageNow, say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { isCorrectable, type PublicPage } from '@fiche/core/pages';
import type { IdOfForm, Tables } from '@fiche/core/tables';
import type { Call } from '../access/index.ts';
import { accessOf, answerOfReceipt, type PageAccess, type ReceivedAnswer, requireOpen } from '../answers/index.ts';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import {
  filledVersionOf,
  findForm,
  findFormInUse,
  findPage,
  inLanguage,
  prepared,
  tableForm,
  versionOf,
} from '../forms/index.ts';
import { addressOf, limit, notFound, Refusal } from '../http/index.ts';

/** A form as one of the four addresses runs it. */
export interface Runner {
  /** Over all fields: what the server decides by. */
  readonly form: PreparedForm;
  /** What of the tables the caller is told, and of which records. */
  readonly seen: Tables;
  readonly rows: Tables;
  /** For questions about the rights of the caller; not on a public page. */
  readonly definitions?: Definitions;
  readonly account: string | null;
  readonly actor: string;
  readonly through: Through;
  /** Which of the four addresses, and of what: part of what an idempotency key stands for. */
  readonly address: string;
  /** The stored form; a table's own card has none. */
  readonly formId?: IdOfForm;
  /** What the form lets people do today, whatever an older version of it did. */
  readonly mayToday: DefinedForm['may'];
  /** Of a public page: the page as it is today, and how its sender came in. */
  readonly page?: { readonly settings: PublicPage; readonly access: PageAccess; readonly received?: ReceivedAnswer };
  /** Trying a draft decides everything and writes nothing. */
  readonly writes: boolean;
}

export type AnyCall = Call<unknown, unknown>;
export type FindRunner = (call: AnyCall, formVersion?: number) => Promise<Runner>;

/** What one public page may ask in that time from one address. */
const PAGE_QUESTIONS = 1_200;
/** The seconds over which what strangers do is counted. */
export const PAGE_SECONDS = 600;

const begunToken = (call: AnyCall): string | undefined => {
  const sent = call.request.headers['x-fiche-begun'];
  return typeof sent === 'string' ? sent : undefined;
};

/** A form for a caller with a role. */
const runnerFor = (definitions: Definitions, definition: DefinedForm) => ({
  form: prepared(definitions, definition),
  seen: definitions.tables,
  rows: definitions.seen?.rows ?? definitions.tables,
  definitions,
});

/** Whether a call sends an entry, rather than asks something. */
const isEntry = ({ request }: AnyCall): boolean => request.routeOptions.url?.endsWith('/entries') === true;

/** What the history says of how somebody came into a page. */
export const accessWords = ({ code, link }: PageAccess): Pick<Through, 'access'> =>
  code !== undefined
    ? { access: `with the code ${code}` }
    : link
      ? { access: `with the personal link L-${link.id}` }
      : {};

/** The answer that a respondent comes back to by its receipt, while the page lets it be corrected. Throws 403. */
async function correctedBy(
  database: Database,
  { request }: AnyCall,
  form: IdOfForm,
  page: PublicPage,
  now: string,
): Promise<ReceivedAnswer | undefined> {
  const received = await answerOfReceipt(database, request, form);
  if (received === undefined) return undefined;
  if (received === null)
    throw new Refusal(403, say('This receipt belongs to no answer. Use the link as you received it.'));
  if (isCorrectable(page, now.slice(0, 10))) return received;
  throw new Refusal(403, say('This answer can no longer be corrected. Ask the office to change it.'));
}

/** Finds the form that a request runs, for each of the four addresses. */
export function runnersOf(database: Database): Record<'onForm' | 'onTable' | 'onDraft' | 'onPage', FindRunner> {
  const onForm: FindRunner = async (call, number) => {
    const { params, definitions, caller } = call;
    const row = findFormInUse(definitions, params.form ?? '');
    const { definition, version } = await filledVersionOf(database, row, number, begunToken(call));
    return {
      ...runnerFor(definitions, definition),
      account: caller.login,
      actor: caller.login ?? '',
      writes: true,
      mayToday: row.live?.may ?? definition.may,
      address: `form ${row.id}`,
      through: { kind: 'form', label: definition.label, version },
    };
  };
  const onTable: FindRunner = async ({ params, definitions, caller }) => {
    const definition = tableForm(definitions, params.table ?? '');
    return {
      ...runnerFor(definitions, definition),
      account: caller.login,
      actor: caller.login ?? '',
      writes: true,
      mayToday: definition.may,
      address: `table ${definition.table}`,
      through: { kind: 'table', label: definition.label },
    };
  };
  const onDraft: FindRunner = async ({ params, definitions, caller }, number) => {
    const row = findForm(definitions, params.form ?? '');
    const draft = number === undefined ? row.draft : (await versionOf(database, row, number)).definition;
    return {
      ...runnerFor(definitions, draft),
      account: caller.login,
      actor: caller.login ?? '',
      writes: false,
      mayToday: draft.may,
      address: `draft ${row.id}`,
      through: { kind: 'editor', label: draft.label },
    };
  };
  const onPage: FindRunner = async (call, number) => {
    const { params, definitions, request } = call;
    await limit(request, `page:${params.slug}:${addressOf(request.ip)}`, PAGE_QUESTIONS, PAGE_SECONDS);
    const row = findPage(definitions, params.slug ?? '');
    const { definition, version } = await filledVersionOf(database, row, number, begunToken(call));
    // What is no page today is none for those either who began while it was.
    if (definition.page === null) throw notFound(say('This page'));
    const read = inLanguage(definitions, definition, languageNow());
    const settings = inLanguage(definitions, row.live, languageNow()).definition.page ?? definition.page;
    const now = civilNow();
    const received = await correctedBy(database, call, row.id, settings, now);
    // A receipt lets its respondent in by itself.
    const access = received ? {} : await accessOf(database, request, row.id, settings, now, isEntry(call));
    // Whether it still takes answers, the save decides: the same answer may come twice.
    if (!received && !isEntry(call)) await requireOpen(database, row.id, settings, now);
    return {
      form: prepared(read.definitions, read.definition),
      seen: read.definitions.tables,
      rows: read.definitions.tables,
      account: null,
      actor: `page:${definition.page.slug}`,
      writes: true,
      formId: row.id,
      mayToday: row.live.may,
      address: `page ${definition.page.slug}`,
      page: { settings, access, ...(received ? { received } : {}) },
      through: {
        kind: 'page',
        label: definition.label,
        version,
        ...(received ? { access: 'corrected by its respondent' } : accessWords(access)),
      },
    };
  };
  return { onForm, onTable, onDraft, onPage };
}
