import type { Values } from '@fiche/core/fields';
import { generateForm, type PreparedForm, prepareForm } from '@fiche/core/forms';
import type { Through } from '@fiche/core/history';
import { DEFAULT_OFFICE } from '@fiche/core/office';
import { confirmDisclosures } from '@fiche/core/proof';
import { newFieldSchema } from '@fiche/core/tables';
import { addAccount, addMembership, SAMPLE_ACCOUNTS, SAMPLE_PASSWORD } from '@fiche/server/accounts/index';
import { asActor, type Database, setActor, type Transaction } from '@fiche/server/database/index';
import { type Definitions, keepOffice, loadDefinitions } from '@fiche/server/definitions/index';
import { writeEntry } from '@fiche/server/entries/index';
import { createForm, publishForm, saveDraft } from '@fiche/server/forms/index';
import { notifyAssigned } from '@fiche/server/messages/index';
import { hasRipples, withRipples } from '@fiche/server/ripples/index';
import { addField, changeTable, createCabinet, createTable, enforceConstraint } from '@fiche/server/tables/index';
import { FORMS } from './forms.ts';
import { DAY, type Happening, iso, SET_UP } from './happening.ts';
import { inventOffice } from './office.ts';
import { addGaugeToken, addSampleRoles } from './roles.ts';
import { TABLES } from './tables.ts';
import { addSampleLabels, addSampleViews } from './views.ts';

const BUILT = iso(SET_UP - DAY);
const BATCH = 400;
/** What the clerks said where a rule asked. */
const REASONS = { insured: 'The renewal was shown at the counter.' };

/** True when the database already holds a cabinet. */
export async function isSeeded(owner: Database): Promise<boolean> {
  return Boolean(await owner('fiche.cabinet').first('id'));
}

/**
 * Fills an empty database with Gannet Sound and the empty cabinet Slipway, through the real write path: definitions
 * through the stores, records through the same decision as every save. As the owner, who alone can give the dates of
 * the past. The same content whenever it is seeded, moved so that it ends on that day.
 */
export async function seed(owner: Database): Promise<void> {
  await owner.transaction(async (transaction) => {
    await transaction.raw('SELECT ledger.make_partitions(?::date, now()::date)', [BUILT.slice(0, 10)]);
    await setActor(transaction, { name: 'harbourmaster', through: { kind: 'seed', label: 'First set-up' }, at: BUILT });
    await createCabinet(transaction, 'gannet', 'Gannet Sound');
    await people(transaction, ['gannet', 'slipway']);
    await keepOffice(transaction, DEFAULT_OFFICE);
    await definitions(transaction);
    await addGaugeToken(transaction);
  });
  await records(owner);
  await assignments(owner);
}

/** The two newest fault reports are assigned to the clerk, who finds that in the inbox. */
async function assignments(owner: Database): Promise<void> {
  const actor = { name: 'harbourmaster', through: { kind: 'table', label: 'Fault reports' } } as const;
  await asActor(owner, actor, async (transaction) => {
    const { rows } = await transaction.raw<{ rows: { id: number }[] }>(
      `UPDATE data.gannet_fault_reports SET assigned_to = 'quayclerk'
       WHERE id IN (SELECT id FROM data.gannet_fault_reports ORDER BY id DESC LIMIT 2) RETURNING id`,
    );
    for (const { id } of rows)
      await notifyAssigned(transaction, actor.name, ['quayclerk'], {
        cabinet: 'gannet',
        table: 'gannet_fault_reports',
        record: id,
      });
  });
}

async function people(owner: Transaction, cabinets: readonly string[]): Promise<void> {
  await createCabinet(owner, 'slipway', 'Slipway');
  await addSampleRoles(owner);
  const roles: Record<string, [string, string]> = {
    harbourmaster: ['Ailsa Marwick', 'builder'],
    quayclerk: ['Tam Orsay', 'clerk'],
    nightclerk: ['Bride Colsay', 'night_clerk'],
    auditor: ['Rhona Vane', 'auditor'],
  };
  for (const { login } of SAMPLE_ACCOUNTS) {
    const [name, role] = roles[login] ?? [login, 'clerk'];
    await addAccount(owner, login, name, SAMPLE_PASSWORD);
    // In the empty cabinet there are the roles only that every cabinet begins with.
    for (const cabinet of cabinets)
      await addMembership(owner, login, cabinet, cabinet === 'slipway' && role === 'night_clerk' ? 'clerk' : role);
  }
}

async function definitions(owner: Transaction): Promise<void> {
  for (const plan of TABLES) {
    const table = await createTable(owner, 'gannet', plan.label, plan.description, { kind: plan.kind });
    for (const field of plan.fields) await addField(owner, table.id, newFieldSchema.parse(field));
    for (const constraint of plan.constraints ?? []) await enforceConstraint(owner, table.id, constraint);
    if (plan.rules) await changeTable(owner, table.id, { rules: plan.rules });
    if (plan.title) await changeTable(owner, table.id, { title: plan.title });
    if (plan.card) await changeTable(owner, table.id, { card: plan.card });
  }
  const made = [...(await loadDefinitions(owner)).tables.values()];
  for (const { label, ripples } of TABLES) {
    const table = made.find((one) => one.cabinet === 'gannet' && one.label === label);
    if (ripples && table) await changeTable(owner, table.id, { ripples });
  }
  const views = await addSampleViews(owner);
  await addSampleLabels(owner);
  for (const plan of FORMS) {
    const form = await createForm(owner, 'gannet', plan.table, plan.label);
    const { tables } = await loadDefinitions(owner);
    const draft = await saveDraft(owner, form.id, confirmDisclosures(plan.build(tables, views), tables), 1);
    await publishForm(owner, form.id, draft.revision);
  }
}

/** Lets all that happened in two seasons happen, in order, each by its account and at its time. */
async function records(owner: Database): Promise<void> {
  const cabinet = await loadDefinitions(owner);
  const { tables, forms } = cabinet;
  const byTable = new Map<string, PreparedForm>(
    [...tables.values()].map((table) => [table.id, prepareForm(generateForm(table), tables)]),
  );
  const byForm = new Map(
    [...forms.values()].flatMap((row) => (row.live ? [[row.id, prepareForm(row.live, tables)] as const] : [])),
  );
  const ids = new Map<string, { id: number; version: number }>();
  const happenings = inventOffice();
  for (let from = 0; from < happenings.length; from += BATCH)
    await owner.transaction(async (transaction) => {
      for (const one of happenings.slice(from, from + BATCH))
        await happen(transaction, one, { byTable, byForm, cabinet }, ids);
    });
}

/** What the office enters its records through. */
interface Seeding {
  readonly byTable: ReadonlyMap<string, PreparedForm>;
  readonly byForm: ReadonlyMap<string, PreparedForm>;
  readonly cabinet: Definitions;
}

const mail = { server: null, publicUrl: '' };

async function happen(
  transaction: Transaction,
  one: Happening,
  { byTable, byForm, cabinet }: Seeding,
  ids: Map<string, { id: number; version: number }>,
): Promise<void> {
  const form = one.form === undefined ? byTable.get(one.table) : byForm.get(one.form);
  if (!form) throw new Error(`Nothing to enter ${one.table} through`);
  const through: Through =
    one.form === undefined
      ? { kind: 'table', label: form.table.label }
      : { kind: one.account.startsWith('page:') ? 'page' : 'form', label: form.definition.label, version: 1 };
  const actor = { name: one.account, through, at: one.at };
  await setActor(transaction, actor);
  const known = ids.get(one.key);
  const valuesOf = (of: Happening['values']): Values =>
    Object.fromEntries(
      Object.entries(of).map(([field, value]) => [
        field,
        typeof value === 'object' && value !== null ? (ids.get(value.key)?.id ?? null) : value,
      ]),
    );
  const values = valuesOf(one.values);
  const lines = Object.fromEntries(
    Object.entries(one.lines ?? {}).map(([subform, some]) => [
      subform,
      some.map((line, at) => ({ key: `l${at}`, values: valuesOf(line), reasons: {} })),
    ]),
  );
  const account = one.account.startsWith('page:') ? null : one.account;
  const body = known
    ? { record: known.id, version: known.version, values, reasons: REASONS }
    : { values, lines, reasons: REASONS };
  const { page } = form.definition;
  const answer =
    one.form !== undefined && account === null && page && !known
      ? { form: one.form, version: 1, page, consent: page.consent, mail }
      : undefined;
  const save = { form, actor, account, cabinet, mail, address: 'seed', body, ...(answer ? { answer } : {}) };
  const { record } = await (hasRipples(cabinet.tables, form.table.id)
    ? withRipples(transaction, { actor, account, definitions: cabinet, mail }, () => writeEntry(transaction, save))
    : writeEntry(transaction, save));
  if (record) ids.set(one.key, { id: record.id, version: record.version });
}
