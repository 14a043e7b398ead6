import { type Contract, type EntryAnswer, type EntryBody, routes } from '@fiche/core/api';
import type { Value, Values } from '@fiche/core/fields';
import type { PreparedField, PreparedForm } from '@fiche/core/forms';
import type { Through } from '@fiche/core/history';
import { sourceOf } from '@fiche/core/narrowing';
import type { FastifyInstance } from 'fastify';
import { type Call, needRight, route } from '../access/index.ts';
import { findById, findByKey, findChoices, isAmongChoices, readableOf } from '../choices/index.ts';
import { asActor, civilNow } from '../database/index.ts';
import { findForm, prepared, tableForm, versionOf } from '../forms/index.ts';
import { limit, notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { decide } from './decide.ts';
import { saveEntry } from './save.ts';

/** A form as one of the four addresses runs it. */
interface Runner {
  readonly form: PreparedForm;
  readonly account: string | null;
  readonly actor: string;
  readonly through: Through;
  /** Trying a draft decides everything and writes nothing. */
  readonly writes: boolean;
}

type AnyCall = Call<unknown, unknown>;
type FindRunner = (call: AnyCall, formVersion?: number) => Promise<Runner>;
type RunningContracts = typeof routes.onForm | typeof routes.onTable | typeof routes.onDraft | typeof routes.onPage;

/** What one public page may ask in ten minutes from one address, and how often it may send. */
const PAGE_QUESTIONS = 1_200;
const PAGE_ENTRIES = 40;
const PAGE_SECONDS = 600;

export function entryRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;

  const onForm: FindRunner = async ({ params, definitions, caller }, number) => {
    const row = findForm(definitions, params.form ?? '');
    const { definition, version } = await versionOf(database, row, number);
    return {
      form: prepared(definitions, definition),
      account: caller.login,
      actor: caller.login ?? '',
      writes: true,
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
      through: { kind: 'table', label: definition.label },
    };
  };
  const onDraft: FindRunner = async ({ params, definitions, caller }) => {
    const { draft } = findForm(definitions, params.form ?? '');
    return {
      form: prepared(definitions, draft),
      account: caller.login,
      actor: caller.login ?? '',
      writes: false,
      through: { kind: 'studio', label: draft.label },
    };
  };
  const onPage: FindRunner = async ({ params, definitions, request }, number) => {
    await limit(database, `page:${params.slug}:${request.ip}`, PAGE_QUESTIONS, PAGE_SECONDS);
    const row = [...definitions.forms.values()].find((one) => one.slug === params.slug);
    if (!row) throw notFound('This page');
    const { definition, version } = await versionOf(database, row, number);
    if (definition.page === null) throw notFound('This page');
    return {
      form: prepared(definitions, definition),
      account: null,
      actor: `page:${definition.page.slug}`,
      writes: true,
      through: { kind: 'page', label: definition.label, version },
    };
  };

  runRoutes(app, services, routes.onForm, onForm);
  runRoutes(app, services, routes.onTable, onTable);
  runRoutes(app, services, routes.onDraft, onDraft);
  runRoutes(app, services, routes.onPage, onPage);
}

function runRoutes(app: FastifyInstance, services: Services, contracts: RunningContracts, find: FindRunner): void {
  const database = services.databases.app;

  route(app, services, contracts.choices, async (call) => {
    const runner = await find(call);
    const dropdown = dropdownOf(runner.form, call.body.field);
    const entry = await readableOf(
      database,
      runner.form,
      runner.account,
      sentValues(runner.form, call.body.values),
      dropdown,
    );
    const { choices, more } = await findChoices(database, entry, dropdown, call.body.search, call.body.limit);
    return { choices: choices.map((choice) => ({ ...choice, shown: [...choice.shown] })), more };
  });

  route(app, services, contracts.checks, async (call) => {
    const runner = await find(call);
    const dropdown = dropdownOf(runner.form, call.body.field);
    const values = sentValues(runner.form, call.body.values);
    const entry = await readableOf(database, runner.form, runner.account, values, dropdown);
    return { fits: await isAmongChoices(database, entry, dropdown, values[dropdown.id] ?? null) };
  });

  route(app, services, contracts.lookups, async (call) => {
    const { form, account } = await find(call);
    const field = form.fields.get(call.body.field);
    if (!field) throw notFound('This field');
    if ('key' in call.body) return { found: await findByKey(database, form, field, call.body.key) };
    // A public page learns of a record only what its own dropdown would offer.
    if (account === null && !(await offered(database, form, field, call.body.id))) return { found: [] };
    const found = await findById(database, form, field, call.body.id);
    return { found: found ? [found] : [] };
  });

  route(app, services, contracts.entries, async (call): Promise<EntryAnswer> => {
    const runner = await find(call, call.body.formVersion);
    holdMay(call, contracts.entries as unknown as Contract, runner, call.body);
    const actor = { name: runner.actor, through: runner.through };
    if (!runner.writes) return tryEntry(services, runner, call.body);
    if (runner.account === null)
      await limit(database, `entries:${runner.actor}:${call.request.ip}`, PAGE_ENTRIES, PAGE_SECONDS);
    const key = call.request.headers['idempotency-key'];
    if (call.body.record === undefined && (typeof key !== 'string' || !/^[\w-]{8,100}$/.test(key)))
      throw new Refusal(
        400,
        'Send an Idempotency-Key header of 8 to 100 letters, digits, - or _, a new one for each new record.',
      );
    const answer = await saveEntry(database, {
      form: runner.form,
      actor,
      account: runner.account,
      body: call.body,
      key: typeof key === 'string' ? key : undefined,
    });
    // A respondent gets a reference, not the record.
    return runner.account === null ? { record: null, reference: answer.reference } : answer;
  });
}

/** Decides an entry on the draft and throws its problems; nothing is written. */
async function tryEntry(
  services: Services,
  { form, account, actor, through }: Runner,
  body: EntryBody,
): Promise<EntryAnswer> {
  await asActor(services.databases.app, { name: actor, through }, async (transaction) => {
    const { problems } = await decide(transaction, form, { account, now: civilNow(), record: null }, body.values);
    if (problems.length > 0) throw new Refusal(422, problems[0]?.message ?? '', problems);
  });
  return { record: null, reference: '' };
}

/** Adding and changing need the role's right and the form's leave. */
function holdMay(call: AnyCall, contract: Contract, runner: Runner, body: EntryBody): void {
  const changes = body.record !== undefined;
  const { may, label } = runner.form.definition;
  if (contract.needs === 'nobody' && changes)
    throw new Refusal(403, 'A public page adds answers; it cannot change what was sent.');
  if (contract.needs === 'see') needRight(call.caller, runner.form.table.cabinet, changes ? 'change' : 'add');
  if (!(changes ? may.change : may.add))
    throw new Refusal(403, `${label} does not ${changes ? 'change' : 'add'} records.`);
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
    ? isAmongChoices(database, { form, account: null, values: {}, linked: {} }, field, id)
    : Promise.resolve(false);

/** The sent values of the form's own fields; anything else is no business of a narrowing. */
const sentValues = (form: PreparedForm, values: Record<string, unknown>): Values =>
  Object.fromEntries(
    [...form.fields.keys()].flatMap((id): [string, Value][] => {
      const value = values[id];
      return typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean' ? [[id, value]] : [];
    }),
  );
