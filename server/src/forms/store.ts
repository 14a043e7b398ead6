import type { DraftView } from '@fiche/core/api';
import {
  type DefinedForm,
  differences,
  formDefinitionSchema,
  type Generated,
  generateForm,
  type PreparedForm,
  prepareForm,
  withFeedingViews,
} from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { Finding } from '@fiche/core/proof';
import { isLimitedAtFields, limitsOf } from '@fiche/core/rights';
import { labelTaken, nameFrom, type TableId, type Tables } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import {
  type Definitions,
  loadDefinitions,
  refuseForeignTables,
  type StoredForm,
  summarise,
  touchCabinet,
  withinCabinet,
} from '../definitions/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import { checkBegun } from './begun.ts';
import { emptyParents } from './emptyParents.ts';
import { findings } from './findings.ts';
import { requireNextSteps, requireViews } from './references.ts';
import { unknownWords } from './unknownWords.ts';

const ready = new WeakMap<DefinedForm, { whole: Definitions; byRole: Map<string, PreparedForm> }>();

/**
 * A form ready to run over the tables of `definitions`; prepared once a role for as long as those stand. It is over all
 * fields, as what the server decides by: those that are hidden from the role are carried unseen.
 */
export function prepared(definitions: Definitions, definition: DefinedForm): PreparedForm {
  const { seen } = definitions;
  const whole = seen?.whole ?? definitions;
  const limited = seen !== undefined && isLimitedAtFields(seen.role, whole.tables);
  const key = limited ? seen.role.id : '';
  const before = ready.get(definition);
  const known = before?.whole === whole ? before : { whole, byRole: new Map<string, PreparedForm>() };
  ready.set(definition, known);
  const made =
    known.byRole.get(key) ??
    withFeedingViews(
      prepareForm(definition, whole.tables, undefined, limited ? limitsOf(seen.role, whole.tables) : undefined),
      whole.views,
    );
  known.byRole.set(key, made);
  return made;
}

const own = new WeakMap<Definitions, Map<string, DefinedForm>>();

/** The form that a table has by itself: what its records are entered through while no form was made. */
export function tableForm(definitions: Definitions, tableId: TableId): DefinedForm {
  const forms = own.get(definitions) ?? new Map<string, DefinedForm>();
  own.set(definitions, forms);
  const table = definitions.tables.get(tableId);
  if (!table) throw notFound(say('This table'));
  const form = forms.get(tableId) ?? generateForm(table);
  forms.set(tableId, form);
  return form;
}

export function findForm(definitions: Definitions, id: string): StoredForm {
  const form = definitions.forms.get(id);
  if (!form) throw notFound(say('This form'));
  return form;
}

/** The form of a public page, in a cabinet that is in use. Throws 404. */
export function findPage(definitions: Definitions, slug: string): StoredForm & { readonly live: DefinedForm } {
  const form = [...definitions.forms.values()].find((one) => one.slug === slug);
  if (!form?.live?.page || form.archived || definitions.cabinets.get(form.cabinet)?.archived)
    throw notFound(say('This page'));
  return { ...form, live: form.live };
}

/** A form that can be filled. Throws 404, and 409 while it is archived. */
export function findFormInUse(definitions: Definitions, id: string): StoredForm {
  const form = findForm(definitions, id);
  if (form.archived)
    throw new Refusal(409, say('{label} is archived. A builder can restore it.', { label: form.draft.label }));
  return form;
}

/** A published version: the live one, or an older one that somebody is still filling. */
export async function versionOf(
  database: Database | Transaction,
  form: StoredForm,
  number: number | undefined,
): Promise<{ definition: DefinedForm; version: number }> {
  if (form.live === null || form.liveVersion === null)
    throw new Refusal(404, say('{label} is not published yet.', { label: form.draft.label }));
  if (number === undefined || number === form.liveVersion) return { definition: form.live, version: form.liveVersion };
  const row = await database('fiche.form_version').where({ form_id: form.id, number }).first('definition');
  if (!row) throw notFound(say('Version {number} of {label}', { number, label: form.draft.label }));
  return { definition: formDefinitionSchema.parse(row.definition), version: number };
}

/**
 * The version of a form that somebody is filling: the live one, or an older one that was begun while it was live. Not
 * for ever: rules that a version lacks, and what it disclosed, are over once a builder has changed them.
 */
export async function filledVersionOf(
  database: Database,
  form: StoredForm,
  number: number | undefined,
  begun: string | undefined,
): Promise<{ definition: DefinedForm; version: number }> {
  if (number !== undefined && number !== form.liveVersion) await checkBegun(database, form.id, number, begun);
  return versionOf(database, form, number);
}

/** A draft with its proof, which also looks at the records that its dropdowns offer. */
export async function draftView(
  database: Database | Transaction,
  definitions: Definitions,
  form: StoredForm,
): Promise<DraftView> {
  return {
    definition: form.draft,
    revision: form.draftRevision,
    liveVersion: form.liveVersion,
    changedSince: summarise(form).changedSince,
    changes: form.live
      ? Math.max(differences(form.live, form.draft, definitions.tables).length, summarise(form).changedSince ? 1 : 0)
      : 0,
    findings: [
      ...findings(definitions, form.id, form.draft),
      ...(await emptyParents(database, form.draft, definitions.tables)),
      ...(await unknownWords(database, form.draft, definitions.tables)),
    ],
  };
}

/** What the check of a form’s draft finds in its definition, without looking at records. */
export const draftFindings = (definitions: Definitions, form: StoredForm): Finding[] =>
  findings(definitions, form.id, form.draft);

const tablesBeside = ({ tables }: Definitions, cabinet: string): Tables =>
  new Map([...tables].filter(([, table]) => table.cabinet === cabinet));

/** Makes a form from a table, in one step. As the owner, in a transaction. */
export async function createForm(
  owner: Transaction,
  cabinet: string,
  tableId: TableId,
  label: string,
  given?: string,
  chosen?: Generated,
): Promise<StoredForm> {
  await touchCabinet(owner, cabinet);
  const definitions = await loadDefinitions(owner);
  const table = definitions.tables.get(tableId);
  if (table?.cabinet !== cabinet)
    throw unacceptable([{ path: 'table', rule: 'table', message: say('Choose a table of this cabinet.') }]);
  const siblings = [...definitions.forms.values()].filter((one) => one.cabinet === cabinet);
  const taken = labelTaken(
    label,
    siblings.map((one) => one.draft.label),
    'label',
  );
  if (taken) throw unacceptable([taken]);
  const id =
    given ?? nameFrom(`${cabinet} ${label}`.slice(0, 200), new Set(definitions.forms.keys()), `${cabinet}_form`);
  await owner('fiche.form').insert({
    id,
    cabinet,
    table_id: tableId,
    draft: JSON.stringify(generateForm(table, label, chosen, tablesBeside(definitions, cabinet))),
    position: siblings.length,
  });
  return findForm(await loadDefinitions(owner), id);
}

/** Saves a draft over the revision that the builder saw. As the owner, in a transaction. */
export async function saveDraft(
  owner: Transaction,
  id: string,
  definition: DefinedForm,
  revision: number,
): Promise<DraftView> {
  const form = await lockForm(owner, id, revision);
  if (definition.table !== form.table)
    throw unacceptable([
      {
        path: 'table',
        rule: 'fixed',
        message: say('A form stays with its table. Make another form for another table.'),
      },
    ]);
  refuseForeignTables(withinCabinet(await loadDefinitions(owner), form.cabinet).tables, definition, 'definition');
  await owner('fiche.form')
    .where({ id })
    .update({ draft: JSON.stringify(definition), draft_revision: revision + 1 });
  const definitions = await loadDefinitions(owner);
  return draftView(owner, definitions, findForm(definitions, id));
}

/** Takes a form out of use, or brings it back. As the owner, in a transaction. */
export async function archiveForm(owner: Transaction, id: string, archived: boolean): Promise<StoredForm> {
  const known = findForm(await loadDefinitions(owner), id);
  await touchCabinet(owner, known.cabinet);
  await owner('fiche.form')
    .where({ id })
    .update({ archived_at: archived ? owner.raw('fiche.moment()') : null });
  return findForm(await loadDefinitions(owner), id);
}

/** Makes a form with the draft of another one, under another label; it has no public page. As the owner. */
export async function duplicateForm(owner: Transaction, id: string, label: string): Promise<StoredForm> {
  const original = findForm(await loadDefinitions(owner), id);
  const made = await createForm(owner, original.cabinet, original.table, label);
  const draft: DefinedForm = { ...original.draft, label, page: null };
  await owner('fiche.form')
    .where({ id: made.id })
    .update({ draft: JSON.stringify(draft) });
  return findForm(await loadDefinitions(owner), made.id);
}

/** Publishes the draft as the next version, if nothing stands against it. As the owner, in a transaction. */
export async function publishForm(owner: Transaction, id: string, revision: number): Promise<DraftView> {
  const form = await lockForm(owner, id, revision);
  const definition = formDefinitionSchema.parse(form.draft);
  refuseForeignTables(withinCabinet(await loadDefinitions(owner), form.cabinet).tables, definition, 'definition');
  const musts = findings(await loadDefinitions(owner), id, definition).filter((one) => one.weight === 'must');
  if (musts.length > 0) throw unacceptable(musts.map(({ path, rule, message }) => ({ path, rule, message })));
  const known = await loadDefinitions(owner);
  requireViews(known, definition);
  requireNextSteps(known, form.cabinet, definition);
  const number = (form.liveVersion ?? 0) + 1;
  await owner.raw(
    'INSERT INTO fiche.form_version (form_id, number, definition, published_at, published_by) VALUES (?, ?, ?, fiche.moment(), fiche.actor())',
    [id, number, JSON.stringify(definition)],
  );
  await owner('fiche.form')
    .where({ id })
    .update({ draft: JSON.stringify(definition), live_version: number, slug: definition.page?.slug ?? null });
  const definitions = await loadDefinitions(owner);
  return draftView(owner, definitions, findForm(definitions, id));
}

async function lockForm(owner: Transaction, id: string, revision: number): Promise<StoredForm> {
  const known = findForm(await loadDefinitions(owner), id);
  await touchCabinet(owner, known.cabinet);
  const form = findForm(await loadDefinitions(owner), id);
  if (form.draftRevision !== revision)
    throw new Refusal(
      409,
      say('Somebody else has changed this draft meanwhile. Reload to see their changes, then make yours again.'),
    );
  return form;
}

/** The published versions of a form, newest first. */
export async function listVersions(database: Database, id: string) {
  const { rows } = await database.raw<{ rows: { number: number; at: string; by: string; definition: unknown }[] }>(
    'SELECT number, published_at AS at, published_by AS by, definition FROM fiche.form_version WHERE form_id = ? ORDER BY number DESC LIMIT 200',
    [id],
  );
  return rows.map((row) => ({ ...row, at: String(row.at), definition: formDefinitionSchema.parse(row.definition) }));
}
