import { createHash } from 'node:crypto';
import type { EntryAnswer, EntryBody, RecordView } from '@fiche/core/api';
import { fieldOfDestination } from '@fiche/core/destinations';
import { changesOf, type EntryState, originsOf, presentLines, reasonsGiven } from '@fiche/core/entry';
import { holdsFiles, isBlank, isNumbered, type Value, type Values } from '@fiche/core/fields';
import { formFields, type PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import type { RecordId, TableDefinition } from '@fiche/core/tables';
import { isPartial, requireRecords } from '../access/index.ts';
import type { AnswerToKeep, CorrectedAnswer } from '../answers/index.ts';
import { constraintProblem } from '../constraints/index.ts';
import { type Actor, type Database, setActor, type Transaction } from '../database/index.ts';

import { decide, peopleOfEntry } from '../deciding/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { announce, announceAdded, MANY } from '../events/index.ts';
import { claimFiles } from '../files/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';
import { notifyAssigned, notifyWatchers } from '../messages/index.ts';
import {
  findRecord,
  findSeen,
  insertRecord,
  keepOrigins,
  linesOfForm,
  type Origins,
  originsOfRecord,
  type Queryable,
  type SaveKey,
  updateRecord,
  type WantedFacts,
} from '../records/index.ts';
import { hasRipples, type Saver, savingRecords } from '../ripples/index.ts';
import type { MailSettings } from '../services.ts';
import { fileProblems, filesToClaim } from './files.ts';
import { keepWithAnswer, recountCorrected, reserveCapacityFor } from './keepWithAnswer.ts';
import { hideCurrent, leftToServer, requireChanges } from './limits.ts';
import { mergeConcurrent } from './mergeConcurrent.ts';
import { changesLines, checkLineConflicts, writeLines } from './writeLines.ts';
import { type WrittenPart, writeParts } from './writeParts.ts';

interface Save {
  readonly form: PreparedForm;
  readonly actor: Actor;
  /** The signed-in account; null on a public page. */
  readonly account: string | null;
  readonly body: Pick<EntryBody, 'record' | 'version' | 'values' | 'reasons' | 'picked' | 'meant' | 'lines'>;
  /** What the caller sees and may do, where a role limits it. */
  readonly definitions?: Definitions;
  /** All definitions of the cabinet, or those that the caller sees: for what else is written. */
  readonly cabinet: Definitions;
  readonly mail: MailSettings;
  /** Of an answer of a public page that is released: what whoever releases it sees, and may choose where several have a key. */
  readonly choosing?: Definitions;
  /** Where it was sent: the same key elsewhere is another save. */
  readonly address: string;
  /** What makes a second sending of the same save known. */
  readonly key?: string;
  /** Of a public page: how its sender came, kept with the records that it makes. */
  readonly answer?: AnswerToKeep;
  /** Of a public page: the answer that its respondent corrects. */
  readonly corrects?: CorrectedAnswer;
}

/**
 * Saves an entry whole or not at all, its lines with it: decided by the core, written as the actor, answered the same
 * when the same key comes again. Throws 409 when what it changes has changed since, 422 with every problem at its place.
 */
export async function saveEntry(database: Database, save: Save): Promise<EntryAnswer> {
  const known = save.key === undefined ? undefined : { key: save.key, bodyHash: hashOf([save.address, save.body]) };
  try {
    const answer =
      save.body.record === undefined && !needsMore(save)
        ? await addEntry(database, save, known)
        : await savingRecords(database, saverOf(save), (transaction) => writeEntry(transaction, save, known));
    if (save.body.record === undefined)
      announceAdded(database, save.actor.name, save.form.table.id, answer.record?.id ?? MANY);
    return followedByRipples(save.cabinet, save.form) ? withLatest(database, save, answer) : answer;
  } catch (error) {
    // It may be the second sending of a save that was written before, or is being written just now.
    const before = known && (await savedBefore(database, save, known));
    if (before) return before;
    throw problemOf(save.form, error);
  }
}

/** Decides and writes one entry in a transaction that goes on. The actor must be set. */
export const writeEntry = (transaction: Transaction, save: Save, known?: SaveKey): Promise<EntryAnswer> =>
  save.body.record === undefined ? addEntry(transaction, save, known) : changeEntry(transaction, save, known);

/** Who saves, as ripples need to know it. */
const saverOf = ({ actor, account, definitions, cabinet, mail }: Save): Saver => ({
  actor,
  account,
  definitions: definitions ?? cabinet,
  mail,
});

const followedByRipples = (cabinet: Definitions, { table }: PreparedForm): boolean =>
  hasRipples((cabinet.seen?.whole ?? cabinet).tables, table.id);

/** Whether more than one statement writes an entry: then a transaction holds them together. */
const needsMore = ({ form, body, definitions, cabinet, answer }: Save): boolean =>
  answer !== undefined ||
  followedByRipples(cabinet, form) ||
  form.stored !== undefined ||
  (definitions !== undefined && isPartial(definitions, form.table, 'add')) ||
  Object.values(body.lines ?? {}).some((lines) => lines.length > 0) ||
  [...form.fields.values()].some(({ id, field }) => holdsFiles(field) && !isBlank(body.values[id] as Value));

/** What the database refused, at its place: in the form, or in the subform whose table it stands against. */
export function problemOf(form: PreparedForm, error: unknown): unknown {
  const own = constraintProblem(form.table, error);
  if (own) return own;
  for (const subform of form.subforms.values()) {
    const found = constraintProblem(subform.form.table, error);
    if (found)
      return new Refusal(
        found.status,
        found.message,
        found.errors.map(({ rule, message }) => ({
          path: subform.id,
          rule,
          message: `${subform.label}: ${message}`,
        })),
      );
  }
  return destinationProblem(form, error) ?? error;
}

/** What the database refused of a record of a destination, at its field on the form where it stands there. */
function destinationProblem({ definition, stored }: PreparedForm, error: unknown): Refusal | undefined {
  for (const { id, table } of definition.destinations?.of ?? []) {
    const of = stored?.get(table);
    const found = of && constraintProblem(of, error);
    if (!found) continue;
    const placed = new Set(formFields(definition).map((one) => one.field as string));
    const errors = found.errors.map((one) => {
      const path = fieldOfDestination(id, one.path);
      return { ...one, path: placed.has(path) ? path : '', message: `${of.label}: ${one.message}` };
    });
    return new Refusal(found.status, found.message, errors);
  }
  return undefined;
}

const hashOf = (body: object): string => createHash('sha256').update(JSON.stringify(body)).digest('hex');

async function savedBefore(
  database: Database,
  save: Save,
  { key, bodyHash }: SaveKey,
): Promise<EntryAnswer | undefined> {
  const { table } = save.form;
  const tables = save.form.stored ?? save.form.tables;
  const { rows } = await database.raw<{ rows: { body_hash: string; record: RecordId }[] }>(
    'SELECT body_hash, record FROM fiche.idempotency WHERE account = ? AND key = ?',
    [save.actor.name, key],
  );
  const [row] = rows;
  if (!row) return undefined;
  if (row.body_hash !== bodyHash)
    throw new Refusal(422, say('This idempotency key was used for another entry. Use a new one.'), [
      { path: 'idempotency-key', rule: 'key', message: say('This key was used for another entry. Use a new one.') },
    ]);
  const record = await findRecord(database, tables, table.id, row.record);
  return answerOf(database, save, record);
}

const keepKey = (transaction: Transaction, account: string, { key, bodyHash }: SaveKey, record: RecordId) =>
  transaction.raw('INSERT INTO fiche.idempotency (account, key, body_hash, record) VALUES (?, ?, ?, ?)', [
    account,
    key,
    bodyHash,
    record,
  ]);

/** Who saves, and when. */
const askingOf = ({ account, actor }: Save) => ({
  account: account ?? '',
  now: actor.at?.slice(0, 16) ?? civilNow(),
});

const openingOf = ({ account, actor }: Save, record: RecordView | null) => ({
  account,
  now: actor.at?.slice(0, 16) ?? civilNow(),
  record,
});

/** The actor, with what a person said to the rules that asked: it goes into the lines of history. */
function letThrough(actor: Actor, state: EntryState): Actor {
  const lines = [...state.form.subforms.keys()].flatMap((id) => (state.hidden[id] ? [] : presentLines(state, id)));
  const reasons = [state, ...lines.map((line) => line.state)].flatMap((one) =>
    reasonsGiven(one).map(({ message, reason }) => ({ message, reason })),
  );
  return reasons.length === 0 ? actor : { ...actor, through: { ...actor.through, reasons } };
}

/** Origins as they are kept: what their sources say today is not. */
const stripped = (origins: Origins): Origins =>
  Object.fromEntries(Object.entries(origins).map(([field, { now, ...origin }]) => [field, origin]));

/** A new record: one question for what it links to, one statement that writes it; then its lines. */
async function addEntry(database: Database | Transaction, save: Save, known?: SaveKey): Promise<EntryAnswer> {
  const { form } = save;
  const body = leftToServer(save, null);
  const { state, problems, linked } = await decide(
    database,
    form,
    openingOf(save, null),
    body,
    save.definitions?.seen?.rows,
  );
  problems.push(...(await fileProblems(database, state, save.actor.name)));
  if (problems.length > 0) throw unacceptable(problems);
  const actor = letThrough(save.actor, state);
  const origins = originsOf(state);
  if (needsMore(save)) await checkLineConflicts(database as Transaction, state);
  const counted = save.answer && (await reserveCapacityFor(database as Transaction, save.answer, state));
  const insert = (values: Values): Promise<RecordView> =>
    insertRecord(database, actor, storedTable(form), values, linked, known, origins);
  const { record, parts } = form.stored
    ? await addToSeveral(database as Transaction, { ...save, actor }, state, insert)
    : { record: await insert(changesOf(state)), parts: [] };
  const recordOf = (part: string): RecordId | undefined => parts.find((one) => one.part === part)?.record;
  await tellPeople(database, save, state, record.id);
  if (needsMore(save)) {
    const transaction = database as Transaction;
    const lines = await writeLines(transaction, state, record.id, recordOf);
    await claimFiles(transaction, filesToClaim(state));
    await requireAdded(transaction, save, [{ table: form.table, ids: [record.id] }, ...lines]);
    if (save.answer) {
      const made = { reference: referenceOf(form, record), record: record.id, parts, counted };
      await keepWithAnswer(transaction, save.actor.name, save.answer, state, made);
    }
  }
  return answerOf(database, save, record);
}

/** The table of a form as it is stored, without the fields of destinations. */
export const storedTable = ({ stored, table }: PreparedForm): TableDefinition => stored?.get(table.id) ?? table;

/** Writes the records of a form with destinations, its own by `insert`. In the transaction of a save, or of one that is only tried. */
export async function addToSeveral<Own extends { readonly id: RecordId }>(
  transaction: Transaction,
  { form, cabinet, definitions, choosing, actor, account, body }: Omit<Save, 'address' | 'key' | 'mail'>,
  state: EntryState,
  insert: (values: Values) => Promise<Own>,
): Promise<{ readonly record: Own; readonly parts: readonly WrittenPart[] }> {
  const all = definitions ?? cabinet;
  let own: Own | undefined;
  // What a person said to rules that ask goes into the lines of all records.
  if (Object.keys(body.reasons ?? {}).length > 0) await setActor(transaction, actor);
  const writing = {
    form,
    definitions: all,
    limited: definitions !== undefined,
    actor,
    account,
    now: state.opening.now,
    reasons: body.reasons,
    meant: body.meant,
    choosing: account === null ? choosing : all,
  };
  const parts = await writeParts(transaction, writing, state, async (values) => {
    own = await insert(values);
    return own.id;
  });
  if (!own) throw new Error('The record of the form was not written');
  return { record: own, parts };
}

/** Checks that the role may add what was just written, where that hangs on what it holds. Throws 403. */
async function requireAdded(
  transaction: Transaction,
  { definitions }: Save,
  added: readonly { readonly table: TableDefinition; readonly ids: readonly RecordId[] }[],
): Promise<void> {
  if (!definitions) return;
  for (const { table, ids } of added) await requireRecords(transaction, definitions, table, 'add', ids);
}

/** What a save answers: the record as the caller sees it, or none where it is out of their sight now. */
async function answerOf(database: Queryable, save: Save, record: RecordView): Promise<EntryAnswer> {
  const reference = referenceOf(save.form, record);
  const seen = save.definitions?.tables ?? save.form.stored ?? save.form.tables;
  if (seen === (save.form.stored ?? save.form.tables)) return { record, reference };
  const wanted: WantedFacts = (field) => save.form.fields.get(field.id)?.factPaths ?? [];
  const told = await findSeen(database, seen, save.form.table.id, record.id, wanted);
  return { record: told ?? null, reference };
}

/** An answer with the record as it is now: a ripple may have written to it as well. */
async function withLatest(database: Database, save: Save, answer: EntryAnswer): Promise<EntryAnswer> {
  if (!answer.record) return answer;
  const { form } = save;
  const wanted: WantedFacts = (field) => form.fields.get(field.id)?.factPaths ?? [];
  const tables = form.stored ?? form.tables;
  return answerOf(database, save, await findRecord(database, tables, form.table.id, answer.record.id, wanted));
}

async function changeEntry(transaction: Transaction, save: Save, known?: SaveKey): Promise<EntryAnswer> {
  const { form } = save;
  const { tables, table } = form;
  if (save.definitions) await requireChanges(transaction, save.definitions, form, save.body);
  const wanted: WantedFacts = (field) => form.fields.get(field.id)?.factPaths ?? [];
  const record = await findRecord(transaction, tables, table.id, save.body.record ?? 0, wanted, true);
  const lines = await linesOfForm(transaction, form, record.id, { asking: askingOf(save), lock: true });
  const body = leftToServer(save, record);
  const sent = await mergeConcurrent(transaction, form, { ...record, lines }, body).catch((error: unknown) =>
    hideCurrent(transaction, save, error),
  );
  if (known) await keepKey(transaction, save.actor.name, known, record.id);
  const origins = await originsOfRecord(transaction, tables, table.id, record.id);
  const opened = { ...openingOf(save, { ...record, origins }), lines };
  const { state, problems } = await decide(transaction, form, opened, sent, save.definitions?.seen?.rows);
  problems.push(...(await fileProblems(transaction, state, save.actor.name)));
  if (problems.length > 0) throw unacceptable(problems);
  if (save.corrects) await recountCorrected(transaction, save.corrects, state);
  await setActor(transaction, letThrough(save.actor, state));
  const traced = originsOf(state);
  if (JSON.stringify(traced) !== JSON.stringify(stripped(origins)))
    await keepOrigins(transaction, table.id, [[record.id, traced]]);
  await updateRecord(transaction, table.id, record.id, changesOf(state));
  await requireAdded(transaction, save, await writeLines(transaction, state, record.id));
  await claimFiles(transaction, filesToClaim(state));
  if (changesLines(state)) await notifyWatchers(transaction, table.id, record.id);
  await announce(transaction, save.actor.name, table.id, record.id);
  await tellPeople(transaction, save, state, record.id);
  return answerOf(transaction, save, await findRecord(transaction, tables, table.id, record.id, wanted));
}

/** Tells the people whom the entry newly names, other than who saves it. */
async function tellPeople(
  database: Database | Transaction,
  save: Save,
  state: EntryState,
  record: RecordId,
): Promise<void> {
  const logins = new Set(peopleOfEntry(state).map((one) => one.login));
  logins.delete(save.account ?? '');
  const { id, cabinet } = save.form.table;
  const about = { cabinet, table: id, record };
  if (logins.size > 0) await notifyAssigned(database, save.actor.name, [...logins], about);
}

/** What a respondent can quote: the sequence number, or the record's number where the table has none. */
function referenceOf(form: PreparedForm, record: RecordView): string {
  const number = form.table.fields.find((field) => isNumbered(field));
  return String((number && record.values[number.id]) ?? `No. ${record.id}`);
}
