import { type OpenPage, type RecordView, routes, type UnavailablePage } from '@fiche/core/api';
import { choiceWords, type DefinedForm, type PreparedForm, withoutDestinations, withoutViews } from '@fiche/core/forms';
import { languageNow, say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import {
  isCorrectable,
  type PublicPage,
  pageLanguages,
  pageLocale,
  unavailableAt,
  unavailableWords,
} from '@fiche/core/pages';
import type { FastifyInstance } from 'fastify';
import { type Call, route } from '../access/index.ts';
import {
  AccessRefused,
  accessOf,
  answerOfReceipt,
  countAnswers,
  type PageAccess,
  type ReceivedAnswer,
} from '../answers/index.ts';
import { findById } from '../choices/index.ts';
import type { Database } from '../database/index.ts';
import { beginToken, findPage, inLanguage, prepared } from '../forms/index.ts';
import { findSeen, linesOfForm } from '../records/index.ts';
import type { Services } from '../services.ts';
import { WORK_BITS } from '../spam/index.ts';
import { disclosedTables } from './disclose.ts';

type PageCall = Call<unknown, unknown>;
type Why = Pick<UnavailablePage, 'unavailable' | 'words'>;

export function publicRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;
  route(app, services, routes.readPage, async (call): Promise<OpenPage | UnavailablePage> => {
    const { params, definitions } = call;
    const form = findPage(definitions, params.slug ?? '');
    const language = languageNow();
    const read = inLanguage(definitions, form.live, language);
    const page = read.definition.page as PublicPage;
    const frame = {
      label: read.definition.label,
      cabinet: definitions.cabinets.get(form.cabinet)?.label ?? '',
      office: { ...definitions.office, locale: pageLocale(page, language, definitions.office.locale) },
      style: page.style ?? null,
      language,
      languages: pageLanguages(page),
    };
    const entered = await enter(database, call, form.id, page);
    if ('unavailable' in entered) return { ...frame, ...entered };
    const { access, received } = entered;
    const definition = received ? withoutDestinations(read.definition) : read.definition;
    const running = prepared(read.definitions, definition);
    const version = form.liveVersion;
    const answered = received && (await answerNow(database, running, received));
    if (received && !answered)
      return {
        ...frame,
        unavailable: 'receipt',
        words: say('This answer is not there any more. Ask the office about it.'),
      };
    const given = await givenByLink(database, running, page, access);
    if (access.link && !given.given)
      return {
        ...frame,
        unavailable: 'withdrawn',
        words: say('What this personal link was made for is not there any more.'),
      };
    return {
      ...frame,
      id: form.id,
      version,
      begun: await beginToken(database, form.id, version ?? 0),
      definition: ofPage(definition),
      tables: disclosedTables(running),
      choiceWords: choiceWords({ definition: form.live, tables: definitions.tables }, language),
      workBits: WORK_BITS,
      ...given,
      ...(answered ? { received: answered } : {}),
    };
  });
}

/** How somebody comes into a page now, by receipt, code, personal link or the address alone; or why not, in words. */
async function enter(
  database: Database,
  { request }: PageCall,
  form: string,
  page: PublicPage,
): Promise<{ readonly access: PageAccess; readonly received?: ReceivedAnswer } | Why> {
  const now = civilNow();
  const received = await answerOfReceipt(database, request, form);
  if (received === null)
    return {
      unavailable: 'receipt',
      words: say('This receipt belongs to no answer. Use the link as you received it.'),
    };
  if (received && !isCorrectable(page, now.slice(0, 10)))
    return {
      unavailable: 'receipt',
      words: say('This answer can no longer be corrected. Ask the office to change it.'),
    };
  if (received) return { access: {}, received };
  try {
    const access = await accessOf(database, request, form, page, now);
    const unavailable = unavailableAt(page, now, await countAnswers(database, form, page));
    return unavailable ? { unavailable, words: unavailableWords(page, unavailable) } : { access };
  } catch (error) {
    if (!(error instanceof AccessRefused)) throw error;
    return { unavailable: error.why, words: error.message };
  }
}

/** What a personal link gives: the record that it was made for, in the field that the page names. */
async function givenByLink(
  database: Database,
  { fields, tables }: PreparedForm,
  { who }: PublicPage,
  { link }: PageAccess,
): Promise<Pick<OpenPage, 'given'>> {
  const field = who?.kind === 'link' ? fields.get(who.fills) : undefined;
  if (!link || !field) return {};
  const found = await findById(database, tables, field, link.record);
  if (!found) return {};
  const { title, facts } = found;
  return { given: { values: { [field.id]: link.record }, linked: { [field.id]: { title, facts } } } };
}

/** An answer as it is now, for its respondent: the fields that the page shows and no others; undefined where it is gone. */
async function answerNow(
  database: Database,
  form: PreparedForm,
  { record: id, reference }: ReceivedAnswer,
): Promise<OpenPage['received']> {
  const wanted = (of: PreparedForm) => (field: { readonly id: string }) => of.fields.get(field.id)?.factPaths ?? [];
  const record = await findSeen(database, form.tables, form.table.id, id, wanted(form));
  if (!record || record.archived) return undefined;
  const asking = { account: '', now: civilNow() };
  const lines = await linesOfForm(database, form, id, { asking });
  return {
    reference,
    record: {
      ...onlyPlaced(form, record),
      lines: Object.fromEntries(
        [...form.subforms.values()].map((subform) => [
          subform.id,
          (lines[subform.id] ?? []).map((line) => onlyPlaced(subform.form, line)),
        ]),
      ),
    },
  };
}

/** A record with the values of the fields that stand on a form; who has changed it in the office is not told. */
function onlyPlaced({ fields }: PreparedForm, record: RecordView): RecordView {
  const placed = <T>(of: Readonly<Record<string, T>>): Record<string, T> =>
    Object.fromEntries(Object.entries(of).filter(([field]) => fields.get(field)?.placed));
  return {
    ...record,
    values: placed(record.values),
    linked: placed(record.linked),
    origins: {},
    stamp: { ...record.stamp, createdBy: '', changedBy: '' },
  };
}

/** A form as a public page runs it: what colleagues see next, and how the page opens, is not for strangers. */
function ofPage({ after: _after, starts: _starts, ...form }: DefinedForm): DefinedForm {
  const {
    who: _who,
    when: _when,
    atMost: _atMost,
    atMostFor: _atMostFor,
    sites: _sites,
    confirmation: _confirmation,
    eraseAfterDays: _days,
    translations: _translations,
    ...page
  } = form.page as PublicPage;
  return withoutViews({ ...form, page: { ...page, disclosed: [] } });
}
