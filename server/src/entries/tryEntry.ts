import type { EntryAnswer, EntryBody } from '@fiche/core/api';
import type { Opening } from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import { civilNow } from '@fiche/core/office';
import type { RecordId } from '@fiche/core/tables';
import { asActor } from '../database/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { findRecord, linesOfForm, originsOfRecord } from '../records/index.ts';
import type { Services } from '../services.ts';
import { decide } from './decide.ts';
import type { Runner } from './runners.ts';

/** Decides an entry on the draft and throws its problems; nothing is written. */
export async function tryEntry(
  services: Services,
  { form, account, actor, through }: Runner,
  body: EntryBody,
): Promise<EntryAnswer> {
  if (body.as !== undefined) await requireRoleRights(services, form, body);
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
async function requireRoleRights(
  { databases }: Services,
  form: PreparedForm,
  { as, record }: EntryBody,
): Promise<void> {
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
  const lines = await linesOfForm(services.databases.app, form, record);
  return { account, now, record: { ...found, origins }, lines };
}
