import { type Contract, type EntryAnswer, type EntryBody, type FileAnswer, routes } from '@fiche/core/api';
import { type AttachmentSettings, holdsFiles, KINDS, type Value, writeFileToken } from '@fiche/core/fields';
import { type PreparedField, type PreparedForm, withoutDestinations } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { FastifyInstance } from 'fastify';
import { requireOneWriteRight, route } from '../access/index.ts';
import { explainChoices, findById, findByKey, findChoices, isAmongChoices } from '../choices/index.ts';
import { type Transaction, whileWanted } from '../database/index.ts';
import { countBytes, receiveFile, requireDiskSpace } from '../files/index.ts';
import { findForm, prepared } from '../forms/index.ts';
import { addressOf, limit, notFound, Refusal } from '../http/index.ts';
import { officeLanguageOf } from '../languages/index.ts';
import type { Services } from '../services.ts';
import { answerPage } from './answerPage.ts';
import { archiveRoutes } from './archive.ts';
import { type Asking, askedOf, linesForm, offered } from './asking.ts';
import { requireEntryRights } from './entryRights.ts';
import { heldAnswerRoutes } from './heldAnswers.ts';
import { openRecordRoutes } from './openRecord.ts';
import { replayInThread } from './replayInThread.ts';
import { type AnyCall, type FindRunner, PAGE_SECONDS, type Runner, runnersOf } from './runners.ts';
import { saveEntry } from './save.ts';
import { tryEntry } from './tryEntry.ts';

type RunningContracts = typeof routes.onForm | typeof routes.onTable | typeof routes.onDraft | typeof routes.onPage;

/** How often one address may send to one public page in ten minutes. */
const PAGE_ENTRIES = 40;
/** What one public page takes in that time from all addresses. */
const PAGE_ENTRIES_IN_ALL = 15_000;
/** Files that may be sent in that time: from one address to a public page, and by one account. */
const PAGE_FILES = 60;
const FILES = 3_000;

export function entryRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;

  archiveRoutes(app, services);
  route(app, services, routes.replayDraft, async (call) => {
    const { id, cabinet } = findForm(call.definitions, call.params.form ?? '');
    const account = call.definitions.seen?.asking.account ?? '';
    const language = officeLanguageOf(services.languages, call.request);
    const texts = services.languages.texts.get(language) ?? {};
    const url = await services.databases.addressForThread();
    return replayInThread({ url, cabinet, account, form: id, language, texts });
  });
  const { onForm, onTable, onDraft, onPage } = runnersOf(database);

  for (const [contract, find] of [
    [routes.whyOnForm, onForm],
    [routes.whyOnTable, onTable],
    [routes.whyOnDraft, onDraft],
  ] as const)
    route(app, services, contract, async (call) => {
      const { dropdown, entry, runner } = await askedOf(database, find, call);
      return explainChoices(database, runner.seen, entry, dropdown);
    });

  openRecordRoutes(app, services);
  heldAnswerRoutes(app, services);
  runRoutes(app, services, routes.onForm, onForm);
  runRoutes(app, services, routes.onTable, onTable);
  runRoutes(app, services, routes.onDraft, onDraft);
  runRoutes(app, services, routes.onPage, onPage);
}

/** Keys that a public page may look up in that time from one address: a person needs a few, a guesser many. */
const PAGE_KEYS = 60;
/** What an answer to a stranger's key takes at least, so that its time does not tell whether something was found. */
const KEY_MILLISECONDS = 150;

function runRoutes(app: FastifyInstance, services: Services, contracts: RunningContracts, find: FindRunner): void {
  questionRoutes(app, services, contracts, find);
  fileRoute(app, services, contracts, find);
  saveRoute(app, services, contracts, find);
}

/** What a form asks while it is filled. Strangers' questions have connections of their own. */
function questionRoutes(app: FastifyInstance, services: Services, contracts: RunningContracts, find: FindRunner): void {
  const { app: ours, pages, health } = services.databases;
  const database = contracts === routes.onPage ? pages : ours;
  const asked = (call: AnyCall & { readonly body: Asking }) => askedOf(database, find, call);
  /** Reads while the caller waits for it. */
  const wanted = <T>(call: AnyCall, work: (transaction: Transaction) => Promise<T>) =>
    whileWanted(database, health, call.reply.raw, work);

  /**
   * What a key finds, as a public page may know it: the values that its fill copies, and of a single record neither title
   * nor number, unless the fill puts the record itself into a link.
   */
  async function discloseFound(call: AnyCall, form: PreparedForm, field: PreparedField, key: Value) {
    const waited = new Promise((resolve) => setTimeout(resolve, KEY_MILLISECONDS));
    const found = await wanted(call, (transaction) => findByKey(transaction, form.tables, form, field, key));
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
    const { dropdown, entry, runner } = await asked(call);
    const { choices, more } = await wanted(call, (transaction) =>
      findChoices(transaction, runner.seen, entry, dropdown, call.body.search, call.body.limit),
    );
    return { choices: choices.map((choice) => ({ ...choice, shown: [...choice.shown] })), more };
  });

  route(app, services, contracts.checks, async (call) => {
    const { dropdown, entry, runner } = await asked(call);
    const value = entry.values[dropdown.id] ?? null;
    const fits = await wanted(call, (transaction) => isAmongChoices(transaction, runner.rows, entry, dropdown, value));
    return { fits };
  });

  route(app, services, contracts.lookups, async (call) => {
    const { form: whole, account, seen } = await find(call, call.body.formVersion);
    const form = call.body.subform === undefined ? whole : linesForm(whole, call.body.subform);
    const field = form.fields.get(call.body.field);
    if (!field) throw notFound(say('This field'));
    if ('key' in call.body) {
      const { key } = call.body;
      if (account !== null)
        return { found: await wanted(call, (transaction) => findByKey(transaction, seen, form, field, key)) };
      await limit(call.request, `keys:${call.params.slug}:${addressOf(call.request.ip)}`, PAGE_KEYS, PAGE_SECONDS);
      return { found: await discloseFound(call, form, field, key) };
    }
    // A public page learns of a record only what its own dropdown would offer.
    const { id } = call.body;
    const found = await wanted(call, async (transaction) =>
      account === null && !(await offered(transaction, form, field, id))
        ? undefined
        : findById(transaction, seen, field, id),
    );
    return { found: found ? [found] : [] };
  });
}

/** Takes a file in while a form is filled, before anything is saved. */
function fileRoute(app: FastifyInstance, services: Services, contracts: RunningContracts, find: FindRunner): void {
  const database = services.databases.app;
  route(app, services, contracts.files, async (call): Promise<FileAnswer> => {
    const runner = await find(call, call.query.formVersion);
    const form = call.query.subform === undefined ? runner.form : linesForm(runner.form, call.query.subform);
    const field = form.fields.get(call.query.field);
    if (!field || !holdsFiles(field.field) || field.readOnly) throw notFound(say('This field for files'));
    const stream = call.body as AsyncIterable<Buffer> | undefined;
    if (typeof stream?.[Symbol.asyncIterator] !== 'function')
      throw new Refusal(422, say('Send the file itself, with content-type application/octet-stream.'));
    const anonymous = runner.account === null;
    // A file is part of an entry: whoever can neither add nor change one sends none.
    if (!anonymous) requireOneWriteRight(call.definitions, runner.form.table);
    await limit(
      call.request,
      `files:${runner.actor}:${anonymous ? addressOf(call.request.ip) : ''}`,
      anonymous ? PAGE_FILES : FILES,
      PAGE_SECONDS,
    );
    const { kinds, largest } = field.field.settings as AttachmentSettings;
    await requireDiskSpace(services.dataFolder);
    const declared = Number(call.request.headers['content-length'] ?? 0);
    await countBytes(database, runner.actor, anonymous ? addressOf(call.request.ip) : null, declared);
    const { id, name, size, kind } = await receiveFile(database, stream, {
      table: form.table.id,
      name: call.query.name,
      by: runner.actor,
      largest,
      ...(anonymous ? { scanner: services.scanner } : {}),
      refuseKind: (found) =>
        KINDS[kinds].takes(found)
          ? undefined
          : say('only {kinds} are taken here, and this is none.', { kinds: KINDS[kinds].words() }),
    });
    return { token: writeFileToken({ id, name }), name, size, kind };
  });
}

/** A record that is there is changed by its own fields: a form with destinations runs without them. */
const ofRecord = (call: AnyCall & { readonly body: EntryBody }, runner: Runner): Runner =>
  call.body.record === undefined || !runner.form.stored
    ? runner
    : { ...runner, form: prepared(call.definitions, withoutDestinations(runner.form.definition)) };

/** Saves what was filled. */
function saveRoute(app: FastifyInstance, services: Services, contracts: RunningContracts, find: FindRunner): void {
  const database = services.databases.app;

  route(app, services, contracts.entries, async (call): Promise<EntryAnswer> => {
    const runner = ofRecord(call, await find(call, call.body.formVersion));
    requireEntryRights(call, contracts.entries as unknown as Contract, runner, call.body);
    const actor = { name: runner.actor, through: runner.through };
    if (!runner.writes) return tryEntry(services, runner, call.body, call.definitions);
    if (runner.account === null) {
      await limit(call.request, `entries:${runner.actor}:${addressOf(call.request.ip)}`, PAGE_ENTRIES, PAGE_SECONDS);
      await limit(call.request, `entries:${runner.actor}`, PAGE_ENTRIES_IN_ALL, PAGE_SECONDS);
    }
    const key = call.request.headers['idempotency-key'];
    if (call.body.record === undefined && (typeof key !== 'string' || !/^[\w-]{8,100}$/.test(key)))
      throw new Refusal(
        400,
        say('Send an Idempotency-Key header of 8 to 100 letters, digits, - or _, a new one for each new record.'),
      );
    const { page: _proof, ...body } = call.body;
    const save = {
      form: runner.form,
      actor,
      account: runner.account,
      definitions: runner.definitions,
      cabinet: call.definitions,
      mail: services.mail,
      body,
      address: runner.address,
      key: typeof key === 'string' ? key : undefined,
    };
    if (runner.account !== null) return saveEntry(database, save);
    return answerPage(services, call, runner, save, String(key));
  });
}
