import { createHash } from 'node:crypto';
import type { EntryAnswer, EntryBody, RecordView } from '@fiche/core/api';
import { changesOf, type EntryState, originsOf, reasonsGiven } from '@fiche/core/entry';
import { type Problem, sameValue, type Value } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { constraintProblem } from '../constraints/index.ts';
import { type Actor, asActor, become, civilNow, type Database, type Transaction } from '../database/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';
import {
  findRecord,
  insertRecord,
  keepOrigins,
  type Origins,
  originsOfRecord,
  type SaveKey,
  updateRecord,
  type WantedFacts,
} from '../records/index.ts';
import { decide } from './decide.ts';

export interface Save {
  readonly form: PreparedForm;
  readonly actor: Actor;
  /** The signed-in account; null on a public page. */
  readonly account: string | null;
  readonly body: Pick<EntryBody, 'record' | 'version' | 'values' | 'reasons' | 'picked'>;
  /** What makes a second sending of the same save known. */
  readonly key?: string;
}

/**
 * Saves an entry whole or not at all: decided by the core, written as the actor, answered the same when the same key
 * comes again. Throws 409 when the record has changed since, 422 with every problem at its place.
 */
export async function saveEntry(database: Database, save: Save): Promise<EntryAnswer> {
  const known = save.key === undefined ? undefined : { key: save.key, bodyHash: hashOf(save.body) };
  try {
    if (save.body.record === undefined) return await addEntry(database, save, known);
    return await asActor(database, save.actor, (transaction) => changeEntry(transaction, save));
  } catch (error) {
    // It may be the second sending of a save that was written before, or is being written just now.
    const before = known && save.body.record === undefined ? await savedBefore(database, save, known) : undefined;
    if (before) return before;
    throw constraintProblem(save.form.table, error) ?? error;
  }
}

/** Decides and writes one entry in a transaction that goes on. The actor must be set for a change. */
export const writeEntry = (transaction: Transaction, save: Save): Promise<EntryAnswer> =>
  save.body.record === undefined ? addEntry(transaction, save) : changeEntry(transaction, save);

const hashOf = (body: object): string => createHash('sha256').update(JSON.stringify(body)).digest('hex');

async function savedBefore(
  database: Database,
  save: Save,
  { key, bodyHash }: SaveKey,
): Promise<EntryAnswer | undefined> {
  const { tables, table } = save.form;
  const { rows } = await database.raw<{ rows: { body_hash: string; record: number }[] }>(
    'SELECT body_hash, record FROM fiche.idempotency WHERE account = ? AND key = ?',
    [save.actor.name, key],
  );
  const [row] = rows;
  if (!row) return undefined;
  if (row.body_hash !== bodyHash)
    throw new Refusal(422, 'This idempotency key was used for another entry. Use a new one.');
  const record = await findRecord(database, tables, table.id, row.record);
  return { record, reference: referenceOf(save.form, record) };
}

const openingOf = ({ account, actor }: Save, record: RecordView | null) => ({
  account,
  now: actor.at?.slice(0, 16) ?? civilNow(),
  record,
});

/** The actor, with what a person said to the rules that asked: it goes into the line of history. */
const letThrough = (actor: Actor, state: EntryState): Actor => {
  const reasons = reasonsGiven(state).map(({ message, reason }) => ({ message, reason }));
  return reasons.length === 0 ? actor : { ...actor, through: { ...actor.through, reasons } };
};

/** Origins as they are kept: what their sources say today is not. */
const stripped = (origins: Origins): Origins =>
  Object.fromEntries(Object.entries(origins).map(([field, { now, ...origin }]) => [field, origin]));

/** A new record: one question for what it links to, one statement that writes it. */
async function addEntry(database: Database | Transaction, save: Save, known?: SaveKey): Promise<EntryAnswer> {
  const { form, actor, body } = save;
  const { state, problems, linked } = await decide(database, form, openingOf(save, null), body);
  if (problems.length > 0) throw unacceptable(problems);
  const record = await insertRecord(
    database,
    letThrough(actor, state),
    form.table,
    changesOf(state),
    linked,
    known,
    originsOf(state),
  );
  return { record, reference: referenceOf(form, record) };
}

async function changeEntry(transaction: Transaction, save: Save): Promise<EntryAnswer> {
  const { form, body } = save;
  const { tables, table } = form;
  const wanted: WantedFacts = (field) => form.fields.get(field.id)?.factPaths ?? [];
  const record = await findRecord(transaction, tables, table.id, body.record ?? 0, wanted, true);
  holdVersion(form, record, body);
  const origins = await originsOfRecord(transaction, tables, table.id, record.id);
  const { state, problems } = await decide(transaction, form, openingOf(save, { ...record, origins }), body);
  if (problems.length > 0) throw unacceptable(problems);
  if (reasonsGiven(state).length > 0) await become(transaction, letThrough(save.actor, state));
  const traced = originsOf(state);
  if (JSON.stringify(traced) !== JSON.stringify(stripped(origins)))
    await keepOrigins(transaction, table.id, record.id, traced);
  await updateRecord(transaction, table.id, record.id, changesOf(state));
  const saved = await findRecord(transaction, tables, table.id, record.id, wanted);
  return { record: saved, reference: referenceOf(form, saved) };
}

function holdVersion(form: PreparedForm, record: RecordView, body: Save['body']): void {
  if (body.version === undefined)
    throw new Refusal(422, 'Say which version of the record you changed.', [
      { path: 'version', rule: 'required', message: 'Say which version of the record you changed.' },
    ]);
  if (record.archived)
    throw new Refusal(409, 'This record has been archived meanwhile. Restore it first.', [], { current: record });
  if (record.version === body.version) return;
  const differing: Problem[] = [...form.fields.values()]
    .filter((field) => field.id in body.values && !sameValue(body.values[field.id] as Value, record.values[field.id]))
    .map((field) => ({
      path: field.id,
      rule: 'version',
      message: `${record.stamp.changedBy} has saved this record meanwhile.`,
    }));
  throw new Refusal(
    409,
    `${record.stamp.changedBy} has changed this record while you had it open. Nothing of yours is lost: compare, then save again.`,
    differing,
    { current: record },
  );
}

/** What a respondent can quote: the sequence number, or the record's number where the table has none. */
function referenceOf(form: PreparedForm, record: RecordView): string {
  const number = form.table.fields.find((field) => field.type === 'sequence');
  return String((number && record.values[number.id]) ?? `No. ${record.id}`);
}
