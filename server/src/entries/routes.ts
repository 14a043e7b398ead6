import { type Contract, type EntryAnswer, type EntryBody, type FileAnswer, routes } from '@fiche/core/api';
import type { Opening } from '@fiche/core/entry';
import {
  type AttachmentSettings,
  KINDS,
  type Value,
  type Values,
  valueSchema,
  writeFileToken,
} from '@fiche/core/fields';
import type { DefinedForm, PreparedField, PreparedForm } from '@fiche/core/forms';
import type { Through } from '@fiche/core/history';
import { sourceOf } from '@fiche/core/narrowing';
import type { FastifyInstance } from 'fastify';
import { type Call, holdMayWrite, needRight, route } from '../access/index.ts';
import {
  enclosingOf,
  explainChoices,
  findById,
  findByKey,
  findChoices,
  isAmongChoices,
  readableOf,
} from '../choices/index.ts';
import { asActor, civilNow, type Transaction, whileWanted } from '../database/index.ts';
import { countBytes, holdDiskSpace, receiveFile } from '../files/index.ts';
import { filledVersionOf, findForm, prepared, tableForm, versionOf } from '../forms/index.ts';
import { addressOf, limit, notFound, Refusal } from '../http/index.ts';
import { findRecord, linesOfForm, originsOfRecord } from '../records/index.ts';
import type { Services } from '../services.ts';
import { holdAnswer, spamReason } from '../spam/index.ts';
import { decide } from './decide.ts';
import { heldAnswerRoutes } from './heldAnswers.ts';
import { openRecordRoutes } from './openRecord.ts';
import { saveEntry } from './save.ts';

/** A form as one of the four addresses runs it. */
interface Runner {
  readonly form: PreparedForm;
  readonly account: string | null;
  readonly actor: string;
  readonly through: Through;
  /** Which of the four addresses, and of what: part of what an idempotency key stands for. */
  readonly address: string;
  /** The stored form; a table's own card has none. */
  readonly formId?: string;
  /** What the form lets people do today, whatever an older version of it did. */
  readonly mayToday: DefinedForm['may'];
  /** Trying a draft decides everything and writes nothing. */
  readonly writes: boolean;
}

type AnyCall = Call<unknown, unknown>;
type FindRunner = (call: AnyCall, formVersion?: number) => Promise<Runner>;
type RunningContracts = typeof routes.onForm | typeof routes.onTable | typeof routes.onDraft | typeof routes.onPage;

/** What one public page may ask in ten minutes from one address, and how often it may send. */
const PAGE_QUESTIONS = 1_200;
const PAGE_ENTRIES = 40;
/** What one public page takes in that time from all addresses. */
const PAGE_ENTRIES_IN_ALL = 1_000;
const PAGE_SECONDS = 600;
/** Files that may be sent in that time: from one address to a public page, and by one account. */
const PAGE_FILES = 60;
const FILES = 3_000;

export function entryRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;

  const begunToken = (call: AnyCall): string | undefined => {
    const sent = call.request.headers['x-fiche-begun'];
    return typeof sent === 'string' ? sent : undefined;
  };

  const onForm: FindRunner = async (call, number) => {
    const { params, definitions, caller } = call;
    const row = findForm(definitions, params.form ?? '');
    const { definition, version } = await filledVersionOf(database, row, number, begunToken(call));
    return {
      form: prepared(definitions, definition),
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
      form: prepared(definitions, definition),
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
      form: prepared(definitions, draft),
      account: caller.login,
      actor: caller.login ?? '',
      writes: false,
      mayToday: draft.may,
      address: `draft ${row.id}`,
      through: { kind: 'studio', label: draft.label },
    };
  };
  const onPage: FindRunner = async (call, number) => {
    const { params, definitions, request } = call;
    await limit(request, `page:${params.slug}:${request.ip}`, PAGE_QUESTIONS, PAGE_SECONDS);
    const row = [...definitions.forms.values()].find((one) => one.slug === params.slug);
    if (!row) throw notFound('This page');
    const { definition, version } = await filledVersionOf(database, row, number, begunToken(call));
    // What is no page today is none for those either who began while it was.
    if (definition.page === null || row.live?.page == null) throw notFound('This page');
    return {
      form: prepared(definitions, definition),
      account: null,
      actor: `page:${definition.page.slug}`,
      writes: true,
      formId: row.id,
      mayToday: row.live.may,
      address: `page ${definition.page.slug}`,
      through: { kind: 'page', label: definition.label, version },
    };
  };

  for (const [contract, find] of [
    [routes.whyOnForm, onForm],
    [routes.whyOnTable, onTable],
    [routes.whyOnDraft, onDraft],
  ] as const)
    route(app, services, contract, async (call) => {
      const { dropdown, entry } = await askedOf(database, find, call);
      return explainChoices(database, entry, dropdown);
    });

  openRecordRoutes(app, services);
  heldAnswerRoutes(app, services);
  runRoutes(app, services, routes.onForm, onForm);
  runRoutes(app, services, routes.onTable, onTable);
  runRoutes(app, services, routes.onDraft, onDraft);
  runRoutes(app, services, routes.onPage, onPage);
}

interface Asking {
  readonly field: string;
  readonly formVersion?: number;
  readonly within?: { readonly subform: string; readonly values: Record<string, unknown> };
  readonly values: Record<string, unknown>;
}

/** The dropdown that a question is about, and the entry as its narrowing reads it. */
async function askedOf(
  database: Services['databases']['app'],
  find: FindRunner,
  call: AnyCall & { readonly body: Asking },
) {
  const runner = await find(call, call.body.formVersion);
  const { within, field } = call.body;
  const form = within ? linesForm(runner.form, within.subform) : runner.form;
  const dropdown = dropdownOf(form, field);
  const values = sentValues(form, call.body.values);
  const enclosing = within
    ? await enclosingOf(database, runner.form, sentValues(runner.form, within.values), dropdown)
    : undefined;
  const asked = { account: runner.account, now: civilNow(), values, enclosing };
  const entry = await readableOf(database, form, asked, dropdown);
  return { runner, dropdown, entry };
}

/** Keys that a public page may look up in that time from one address: a person needs a few, a guesser many. */
const PAGE_KEYS = 60;
/** What an answer to a stranger's key takes at least, so that its time does not tell whether something was found. */
const KEY_MILLISECONDS = 150;

function runRoutes(app: FastifyInstance, services: Services, contracts: RunningContracts, find: FindRunner): void {
  const database = services.databases.app;
  const asked = (call: AnyCall & { readonly body: Asking }) => askedOf(database, find, call);
  /** Reads while the caller waits for it; for strangers, with connections of their own. */
  const wanted = <T>(call: AnyCall, account: string | null, work: (transaction: Transaction) => Promise<T>) => {
    const { app: ours, pages, health } = services.databases;
    return whileWanted(account === null ? pages : ours, health, call.reply.raw, work);
  };

  /**
   * What a key finds, as a public page may know it: the values that its fill copies, and of a single record neither title
   * nor number, unless the fill puts the record itself into a link.
   */
  async function discloseFound(form: PreparedForm, field: PreparedField, key: Value) {
    const waited = new Promise((resolve) => setTimeout(resolve, KEY_MILLISECONDS));
    const found = await findByKey(database, form, field, key);
    await waited;
    const pairs = field.fill?.pairs ?? [];
    if (pairs.some((pair) => pair.from === 'self')) return found;
    return found.map((one) => ({
      ...one,
      id: found.length === 1 ? 1 : one.id,
      title: pairs
        .map((pair) => one.facts[pair.from])
        .filter((value) => typeof value === 'string' || typeof value === 'number')
        .join(' · '),
    }));
  }

  route(app, services, contracts.choices, async (call) => {
    const { dropdown, entry } = await asked(call);
    const { choices, more } = await wanted(call, entry.account, (transaction) =>
      findChoices(transaction, entry, dropdown, call.body.search, call.body.limit),
    );
    return { choices: choices.map((choice) => ({ ...choice, shown: [...choice.shown] })), more };
  });

  route(app, services, contracts.checks, async (call) => {
    const { dropdown, entry } = await asked(call);
    const value = entry.values[dropdown.id] ?? null;
    const fits = await wanted(call, entry.account, (transaction) =>
      isAmongChoices(transaction, entry, dropdown, value),
    );
    return { fits };
  });

  route(app, services, contracts.lookups, async (call) => {
    const { form: whole, account } = await find(call, call.body.formVersion);
    const form = call.body.subform === undefined ? whole : linesForm(whole, call.body.subform);
    const field = form.fields.get(call.body.field);
    if (!field) throw notFound('This field');
    if ('key' in call.body) {
      if (account !== null) return { found: await findByKey(database, form, field, call.body.key) };
      await limit(call.request, `keys:${call.params.slug}:${call.request.ip}`, PAGE_KEYS, PAGE_SECONDS);
      return { found: await discloseFound(form, field, call.body.key) };
    }
    // A public page learns of a record only what its own dropdown would offer.
    const { id } = call.body;
    const found = await wanted(call, account, async (transaction) =>
      account === null && !(await offered(transaction, form, field, id))
        ? undefined
        : findById(transaction, form, field, id),
    );
    return { found: found ? [found] : [] };
  });

  route(app, services, contracts.files, async (call): Promise<FileAnswer> => {
    const runner = await find(call, call.query.formVersion);
    const form = call.query.subform === undefined ? runner.form : linesForm(runner.form, call.query.subform);
    const field = form.fields.get(call.query.field);
    if (field?.field.type !== 'attachments' || field.readOnly) throw notFound('This field for files');
    const stream = call.body as AsyncIterable<Buffer> | undefined;
    if (typeof stream?.[Symbol.asyncIterator] !== 'function')
      throw new Refusal(422, 'Send the file itself, with content-type application/octet-stream.');
    const anonymous = runner.account === null;
    // A file is part of an entry: whoever can neither add nor change one sends none.
    const { cabinet } = runner.form.table;
    if (!anonymous && !call.caller.memberships.get(cabinet)?.rights.includes('change'))
      needRight(call.caller, cabinet, 'add');
    await limit(
      call.request,
      `files:${runner.actor}:${anonymous ? call.request.ip : ''}`,
      anonymous ? PAGE_FILES : FILES,
      PAGE_SECONDS,
    );
    const { kinds, largest } = field.field.settings as AttachmentSettings;
    await holdDiskSpace(services.dataFolder);
    const declared = Number(call.request.headers['content-length'] ?? 0);
    await countBytes(database, runner.actor, anonymous ? addressOf(call.request.ip) : null, declared);
    const { id, name, size, kind } = await receiveFile(database, stream, {
      table: form.table.id,
      name: call.query.name,
      by: runner.actor,
      largest,
      refuseKind: (found) =>
        KINDS[kinds].takes(found) ? undefined : `only ${KINDS[kinds].words} are taken here, and this is none.`,
    });
    return { token: writeFileToken({ id, name }), name, size, kind };
  });

  /** Why an answer of a public page is held for a person to look at; undefined when it is not. */
  async function whyHeld(call: AnyCall & { readonly body: EntryBody }, runner: Runner): Promise<string | undefined> {
    if (services.leastSeconds === null) return undefined;
    const begun = call.request.headers['x-fiche-begun'];
    return spamReason(database, {
      form: runner.formId ?? '',
      version: runner.through.version ?? 0,
      begun: typeof begun === 'string' ? begun : undefined,
      proof: call.body.page,
      leastSeconds: services.leastSeconds,
    });
  }

  route(app, services, contracts.entries, async (call): Promise<EntryAnswer> => {
    const runner = await find(call, call.body.formVersion);
    holdMay(call, contracts.entries as unknown as Contract, runner, call.body);
    const actor = { name: runner.actor, through: runner.through };
    if (!runner.writes) return tryEntry(services, runner, call.body);
    if (runner.account === null) {
      await limit(call.request, `entries:${runner.actor}:${call.request.ip}`, PAGE_ENTRIES, PAGE_SECONDS);
      await limit(call.request, `entries:${runner.actor}`, PAGE_ENTRIES_IN_ALL, PAGE_SECONDS);
    }
    const key = call.request.headers['idempotency-key'];
    if (call.body.record === undefined && (typeof key !== 'string' || !/^[\w-]{8,100}$/.test(key)))
      throw new Refusal(
        400,
        'Send an Idempotency-Key header of 8 to 100 letters, digits, - or _, a new one for each new record.',
      );
    const { page, ...body } = call.body;
    if (runner.account === null) holdAnswered(body);
    const why = runner.account === null ? await whyHeld(call, runner) : undefined;
    if (why !== undefined) {
      await tryEntry(services, runner, body);
      const { version } = runner.through;
      const id = await holdAnswer(database, {
        form: runner.formId ?? '',
        version: version ?? 0,
        why,
        body,
        key: String(key),
      });
      return { record: null, reference: `H-${id}` };
    }
    const answer = await saveEntry(database, {
      form: runner.form,
      actor,
      account: runner.account,
      body,
      address: runner.address,
      key: typeof key === 'string' ? key : undefined,
    });
    // A respondent gets a reference, not the record.
    return runner.account === null ? { record: null, reference: answer.reference } : answer;
  });
}

/** Throws 422 for an answer from a public page in which nothing was answered. */
function holdAnswered({ values, lines = {} }: EntryBody): void {
  const said = (given: Readonly<Record<string, unknown>>): boolean =>
    Object.values(given).some(
      (value) => value !== null && value !== '' && !(Array.isArray(value) && value.length === 0),
    );
  if (said(values) || Object.values(lines).some((of) => of.some((line) => said(line.values ?? {})))) return;
  throw new Refusal(422, 'Nothing is answered yet. Answer at least one question, then send.');
}

/** Decides an entry on the draft and throws its problems; nothing is written. */
async function tryEntry(
  services: Services,
  { form, account, actor, through }: Runner,
  body: EntryBody,
): Promise<EntryAnswer> {
  if (body.as !== undefined) await holdRole(services, form, body);
  const tried = body.as === 'public' ? null : account;
  await asActor(services.databases.app, { name: actor, through }, async (transaction) => {
    const { problems } = await decide(
      transaction,
      form,
      await tryingOn(services, form, { account: tried, record: body.record }),
      body,
    );
    if (problems.length > 0) throw new Refusal(422, problems[0]?.message ?? '', problems);
  });
  return { record: null, reference: '' };
}

/** What a role may not do stands against an entry that is tried as it, like a rule. */
async function holdRole({ databases }: Services, form: PreparedForm, { as, record }: EntryBody): Promise<void> {
  const what = record === undefined ? 'add' : 'change';
  if (as === 'public') {
    if (what === 'add') return;
    throw new Refusal(422, 'A public page adds answers; it cannot change what was sent.');
  }
  const role = await databases.app('fiche.role').where({ id: as }).first('label', 'rights');
  if (!role) throw notFound('This role');
  if (!(role.rights as string[]).includes(what))
    throw new Refusal(422, `${role.label} may not ${what} records of ${form.table.label}.`);
}

/** What an entry that is only tried begins with: a blank card, or a record as it is. */
async function tryingOn(
  services: Services,
  form: PreparedForm,
  { account, record }: { account: string | null; record: number | undefined },
): Promise<Opening> {
  const now = civilNow();
  if (record === undefined) return { account, now, record: null };
  const { tables, table } = form;
  const found = await findRecord(
    services.databases.app,
    tables,
    table.id,
    record,
    (field) => form.fields.get(field.id)?.factPaths ?? [],
  );
  const origins = await originsOfRecord(services.databases.app, tables, table.id, record);
  const lines = await linesOfForm(services.databases.app, form, record);
  return { account, now, record: { ...found, origins }, lines };
}

/** Adding and changing need the role's right and the form's leave. */
function holdMay(call: AnyCall, contract: Contract, runner: Runner, body: EntryBody): void {
  const changes = body.record !== undefined;
  for (const lines of Object.values(body.lines ?? {}))
    for (const line of lines) {
      if (contract.needs === 'nobody' && line.id !== undefined)
        throw new Refusal(403, 'A public page adds answers; it cannot change what was sent.');
      if (contract.needs === 'see' && (line.archived || line.id === undefined))
        needRight(call.caller, runner.form.table.cabinet, line.archived ? 'archive' : 'add');
    }
  if (runner.account === null && runner.form.table.kind === 'list')
    throw new Refusal(403, `${runner.form.table.label} is an option list, which no public page adds to.`);
  const { may, label } = runner.form.definition;
  if (contract.needs === 'nobody' && changes)
    throw new Refusal(403, 'A public page adds answers; it cannot change what was sent.');
  if (contract.needs === 'see') holdMayWrite(call.caller, runner.form.table, changes ? 'change' : 'add');
  const today = runner.mayToday;
  if (!(changes ? may.change && today.change : may.add && today.add))
    throw new Refusal(403, `${label} does not ${changes ? 'change' : 'add'} records.`);
}

/** The form of the lines of a subform. */
function linesForm(form: PreparedForm, id: string): PreparedForm {
  const subform = form.subforms.get(id);
  if (!subform) throw notFound('This subform');
  return subform.form;
}

function dropdownOf(form: PreparedForm, id: string): PreparedField {
  const field = form.fields.get(id);
  if (!field?.source) throw notFound('This dropdown');
  return field;
}

const offered = (
  database: Services['databases']['app'],
  form: PreparedForm,
  field: PreparedField,
  id: number,
): Promise<boolean> =>
  sourceOf(field.field)
    ? isAmongChoices(database, { form, account: null, now: civilNow(), values: {}, linked: {}, hidden: {} }, field, id)
    : Promise.resolve(false);

/** The sent values of the form's own fields; anything else is no business of a narrowing. */
const sentValues = (form: PreparedForm, values: Record<string, unknown>): Values =>
  Object.fromEntries(
    [...form.fields.keys()].flatMap((id): [string, Value][] => {
      const value = values[id];
      const read = valueSchema.safeParse(value);
      return read.success && read.data !== null ? [[id, read.data]] : [];
    }),
  );
