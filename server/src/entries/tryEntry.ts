import type { EntryAnswer, EntryBody } from '@fiche/core/api';
import type { Opening } from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import { civilNow } from '@fiche/core/office';
import { rightTo } from '@fiche/core/rights';
import type { RecordId } from '@fiche/core/tables';
import { asActor } from '../database/index.ts';
import { asSeenBy } from '../definitions/index.ts';
import { prepared } from '../forms/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { findRecord, linesOfForm, originsOfRecord } from '../records/index.ts';
import type { Services } from '../services.ts';
import { decide } from './decide.ts';
import type { Runner } from './runners.ts';

/** Decides an entry on the draft and throws its problems; nothing is written. */
export async function tryEntry(services: Services, runner: Runner, body: EntryBody): Promise<EntryAnswer> {
  const { account, actor, through } = runner;
  const { form, rows } = body.as === undefined || body.as === 'public' ? runner : asRole(runner, body.as, body);
  if (body.as === 'public' && body.record !== undefined)
    throw new Refusal(422, 'A public page adds answers; it cannot change what was sent.');
  const tried = body.as === 'public' ? null : account;
  await asActor(services.databases.app, { name: actor, through }, async (transaction) => {
    const { problems } = await decide(
      transaction,
      form,
      await tryingOn(services, form, { account: tried, record: body.record }),
      body,
      rows,
    );
    if (problems.length > 0) throw new Refusal(422, problems[0]?.message ?? '', problems);
  });
  return { record: null, reference: '' };
}

/** The form as a role has it, for trying a draft. What the role may not do stands against the entry, like a rule. */
function asRole({ form, definitions, rows }: Runner, id: string, { record }: EntryBody): Pick<Runner, 'form' | 'rows'> {
  const action = record === undefined ? 'add' : 'change';
  const whole = definitions?.seen?.whole;
  const role = whole?.roles.get(form.table.cabinet)?.get(id);
  if (!whole || !role) throw notFound('This role');
  if (rightTo(role, action, form.table) === 'no')
    throw new Refusal(422, `${role.label} may not ${action} records of ${form.table.label}.`);
  const theirs = asSeenBy(whole, form.table.cabinet, id, definitions?.seen?.asking.account ?? '');
  return { form: prepared(theirs, form.definition), rows: theirs.seen?.rows ?? rows };
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
