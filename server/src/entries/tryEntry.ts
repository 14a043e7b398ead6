import type { EntryAnswer, EntryBody } from '@fiche/core/api';
import type { EntryState, Opening } from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { rightTo } from '@fiche/core/rights';
import type { RecordId } from '@fiche/core/tables';
import { asActor, type Transaction } from '../database/index.ts';
import { decide } from '../deciding/index.ts';
import { asSeenBy, type Definitions } from '../definitions/index.ts';
import { prepared } from '../forms/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { findRecord, insertRecord, linesOfForm, originsOfRecord } from '../records/index.ts';
import type { Services } from '../services.ts';
import { partWords } from './partWords.ts';
import type { Runner } from './runners.ts';
import { addToSeveral, problemOf, storedTable } from './save.ts';

/** Ends a transaction whose work was only tried. */
class OnlyTried extends Error {}

/**
 * Decides an entry on the draft and throws its problems; nothing is written. The records that a form with destinations would
 * write are written and taken back, so that the answer says which they are.
 */
export async function tryEntry(
  services: Services,
  runner: Runner,
  body: EntryBody,
  cabinet: Definitions,
): Promise<EntryAnswer> {
  const { account, actor, through } = runner;
  const ran = body.as === undefined || body.as === 'public' ? runner : { ...runner, ...asRole(runner, body.as, body) };
  if (body.as === 'public' && body.record !== undefined)
    throw new Refusal(422, say('A public page adds answers; it cannot change what was sent.'));
  const tried = body.as === 'public' ? null : account;
  let written: EntryAnswer['written'];
  await asActor(services.databases.app, { name: actor, through }, async (transaction) => {
    const opening = await tryingOn(services, ran.form, { account: tried, record: body.record });
    const { state, problems, linked } = await decide(transaction, ran.form, opening, body, ran.rows);
    if (problems.length > 0) throw new Refusal(422, problems[0]?.message ?? '', problems);
    if (!ran.form.stored || body.record !== undefined) return;
    const by = { name: actor, through };
    const { form, definitions } = ran;
    written = await tryParts(
      transaction,
      { form, actor: by, account: tried, definitions, cabinet, body },
      state,
      linked,
    );
    throw new OnlyTried();
  }).catch((error: unknown) => {
    if (!(error instanceof OnlyTried)) throw problemOf(ran.form, error);
  });
  return { record: null, reference: '', ...(written ? { written } : {}) };
}

/** Writes the records of a form with destinations; they are taken back with the transaction. Gives them in words. */
async function tryParts(
  transaction: Transaction,
  save: Parameters<typeof addToSeveral>[1],
  state: EntryState,
  linked: Parameters<typeof insertRecord>[4],
): Promise<NonNullable<EntryAnswer['written']>> {
  const { parts } = await addToSeveral(transaction, save, state, (values) =>
    insertRecord(transaction, save.actor, storedTable(save.form), values, linked),
  );
  const links = new Map(
    parts.map((one) => [`${one.table.id}:${one.record}`, say('the record of {label}', { label: one.table.label })]),
  );
  return parts.map(({ table: of, did, values }) => ({
    table: of.label,
    did,
    values: partWords(of, values, (target) => links.get(`${target.table}:${target.record}`)),
  }));
}

/** The form as a role has it, for trying a draft. What the role may not do stands against the entry, like a rule. */
function asRole({ form, definitions, rows }: Runner, id: string, { record }: EntryBody) {
  const action = record === undefined ? 'add' : 'change';
  const whole = definitions?.seen?.whole;
  const role = whole?.roles.get(form.table.cabinet)?.get(id);
  if (!whole || !role) throw notFound(say('This role'));
  if (rightTo(role, action, form.table) === 'no')
    throw new Refusal(
      422,
      say('{label} may not {action} records of {other}.', { label: role.label, action, other: form.table.label }),
    );
  const theirs = asSeenBy(whole, form.table.cabinet, id, definitions?.seen?.asking.account ?? '');
  return { form: prepared(theirs, form.definition), rows: theirs.seen?.rows ?? rows, definitions: theirs };
}

/** What an entry that is only tried begins with: a blank card, or a record as it is. */
async function tryingOn(
  services: Services,
  form: PreparedForm,
  { account, record }: { account: string | null; record: RecordId | undefined },
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
  const lines = await linesOfForm(services.databases.app, form, record, { asking: { account: account ?? '', now } });
  return { account, now, record: { ...found, origins }, lines };
}
