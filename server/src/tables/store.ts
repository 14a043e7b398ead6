import { isIndexed, type Problem, withArticle } from '@fiche/core/fields';
import { generateForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { prove } from '@fiche/core/proof';
import { FIRST_ROLES } from '@fiche/core/rights';
import { prepareRipple, rippleCircle } from '@fiche/core/ripples';
import type { Rule } from '@fiche/core/rules';
import {
  fieldAtPath,
  findField,
  labelTaken,
  nameFrom,
  type Ripple,
  type TableDefinition,
  type Tables,
  titleNames,
  typeOf,
} from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { addRole, loadDefinitions, loadTable, touchCabinet, withinCabinet } from '../definitions/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import { checkUnused } from './archiveTable.ts';
import { checkLiveForms } from './liveForms.ts';

export const refuseIf = (problem: Problem | undefined): void => {
  if (problem) throw unacceptable([problem]);
};

/** Makes a cabinet: a named group of tables and forms, with the roles that every cabinet begins with. As the owner. */
export async function createCabinet(owner: Transaction, id: string, label: string): Promise<void> {
  await owner('fiche.cabinet').insert({ id, label });
  for (const { id: role, revision: _revision, ...definition } of FIRST_ROLES)
    await addRole(owner, id, role, definition);
}

/** Makes a table with its real PostgreSQL table, audit fields, stamping and capture. As the owner, in a transaction. */
export async function createTable(
  owner: Transaction,
  cabinet: string,
  label: string,
  description: string,
  more: { readonly kind?: TableDefinition['kind']; readonly id?: string } = {},
): Promise<TableDefinition> {
  await touchCabinet(owner, cabinet);
  const { tables } = await loadDefinitions(owner);
  const siblings = [...tables.values()].filter((one) => one.cabinet === cabinet);
  refuseIf(
    labelTaken(
      label,
      siblings.map((one) => one.label),
      'label',
    ),
  );
  const id = more.id ?? nameFrom(`${cabinet} ${label}`.slice(0, 200), new Set(tables.keys()), `${cabinet}_table`);
  await owner('fiche.table').insert({
    id,
    cabinet,
    label,
    description,
    position: siblings.length,
    kind: more.kind ?? 'records',
  });
  await owner.raw('SELECT fiche.make_record_table(?)', [id]);
  return tableNow(owner, id);
}

interface TableChange {
  readonly label?: string;
  readonly description?: string;
  readonly title?: string | null;
  readonly rules?: readonly Rule[];
  readonly card?: readonly string[];
  readonly ripples?: readonly Ripple[];
  readonly archived?: boolean;
  readonly revision?: number;
}

/** Changes what a table is called and how its records are named. As the owner, in a transaction. */
export async function changeTable(owner: Transaction, id: string, change: TableChange): Promise<TableDefinition> {
  const { table, siblings, all, forms } = await lockTable(owner, id, change.revision);
  if (change.archived) checkUnused(table, all, forms.values());
  if (change.label !== undefined)
    refuseIf(
      labelTaken(
        change.label,
        siblings.map((one) => one.label),
        'label',
      ),
    );
  if (change.title) checkTitle(table, change.title);
  const { rules, card, ripples, revision, archived, ...plain } = change;
  if (rules) checkRules(table, all, rules);
  if (ripples) {
    checkRipples({ ...table, ripples }, all);
    await checkReceivers(owner, table.cabinet, ripples);
  }
  for (const path of card ?? [])
    if (!fieldAtPath(all, id, path))
      throw unacceptable([
        {
          path: 'card',
          rule: 'field',
          message: say('{path} is not a column of {label}.', { path, label: table.label }),
        },
      ]);
  if (change.card || change.title !== undefined)
    checkLiveForms(all, forms, { ...table, card: card ?? table.card, title: change.title ?? table.title });
  const columns = {
    ...plain,
    ...(archived === undefined ? {} : { archived_at: archived ? owner.raw('fiche.moment()') : null }),
    ...(rules === undefined ? {} : { rules: JSON.stringify(rules) }),
    ...(card === undefined ? {} : { card: JSON.stringify(card) }),
    ...(ripples === undefined ? {} : { ripples: ripples.length === 0 ? null : JSON.stringify(ripples) }),
  };
  if (Object.keys(columns).length > 0) await owner('fiche.table').where({ id }).update(columns);
  return tableNow(owner, id);
}

/** Checks that ripples can run, by themselves and with those of other tables. Throws 422. */
function checkRipples(table: TableDefinition, tables: Tables): void {
  const after = new Map(tables).set(table.id, table);
  const refuse = (message: string, path = ''): never => {
    throw unacceptable([{ path: `ripples${path}`, rule: 'ripple', message }]);
  };
  const ripples = table.ripples ?? [];
  if (table.kind === 'list' && ripples.length > 0)
    refuse(say('An option list sets nothing off. Give the ripple to a table of records.'));
  for (const [at, ripple] of ripples.entries()) {
    const same = (one: Ripple): boolean =>
      one.id === ripple.id || one.label.toLocaleLowerCase('en') === ripple.label.toLocaleLowerCase('en');
    if (ripples.findIndex(same) !== at)
      refuse(say('A ripple of the name {label} is there already.', { label: ripple.label }), `.${at}.label`);
    const prepared = prepareRipple(ripple, table, after);
    const wrong = 'problems' in prepared ? prepared.problems[0] : undefined;
    if (wrong) refuse(`${ripple.label}: ${wrong.message}`, `.${at}.${wrong.path}`);
  }
  const circle = rippleCircle(after);
  if (circle !== undefined)
    refuse(
      say(
        'These ripples would set off one another without end: {circle}. Take one of them away, or limit it to other fields.',
        { circle },
      ),
    );
}

/** Checks that the accounts that ripples write to are in use in the cabinet. One that is paused may wait for its account. Throws 422. */
async function checkReceivers(owner: Transaction, cabinet: string, ripples: readonly Ripple[]): Promise<void> {
  const { rows } = await owner.raw<{ rows: { login: string }[] }>(
    'SELECT m.login FROM fiche.membership m JOIN fiche.account a USING (login) WHERE m.cabinet = ? AND a.closed_at IS NULL',
    [cabinet],
  );
  const known = new Set(rows.map((one) => one.login));
  for (const [at, ripple] of ripples.entries())
    for (const effect of ripple.paused ? [] : ripple.effects)
      if (effect.does === 'message' && effect.to.kind === 'account' && !known.has(effect.to.login)) {
        const message = say('{label}: {login} is no account of this cabinet. Choose another, or pause the ripple.', {
          label: ripple.label,
          login: effect.to.login,
        });
        throw unacceptable([{ path: `ripples.${at}`, rule: 'ripple', message }]);
      }
}

/** A rule of a table is held to the same proof as a rule of a form, and its examples are run. */
function checkRules(table: TableDefinition, tables: Tables, rules: readonly Rule[]): void {
  const without = new Map(tables).set(table.id, { ...table, rules: [] });
  const found = (own: readonly Rule[]) =>
    prove({ ...generateForm(table), rules: [...own] }, without, civilNow()).filter((one) => one.weight === 'must');
  const before = new Set(found([]).map((one) => one.message));
  const wrong = found(rules).find((one) => !before.has(one.message));
  if (wrong) throw unacceptable([{ path: 'rules', rule: wrong.rule, message: wrong.message }]);
}

function checkTitle(table: TableDefinition, title: string): void {
  const names = titleNames(title);
  const wrong = (message: string) => unacceptable([{ path: 'title', rule: 'field', message }]);
  if (names.length === 0)
    throw wrong(
      say('A title needs at least one field, in braces, such as {number}, so that records can be told apart.'),
    );
  for (const name of names) {
    const field = findField(table, name);
    if (!field)
      throw wrong(
        title.includes('{')
          ? say('{{name}} is not a field of this table.', { name })
          : say('The title must be a field of this table.'),
      );
    if (!isIndexed(field))
      throw wrong(
        say('{label} is {field} and cannot stand in a title.', {
          label: field.label,
          field: withArticle(typeOf(field)),
        }),
      );
  }
}

/** Reads a table for a change of it, and makes other changes in its cabinet wait. 409 when it is not the `revision` seen. */
export async function lockTable(owner: Transaction, id: string, revision?: number) {
  const { rows } = await owner.raw<{ rows: { cabinet: string }[] }>('SELECT cabinet FROM fiche."table" WHERE id = ?', [
    id,
  ]);
  const cabinet = rows[0]?.cabinet;
  if (cabinet === undefined) throw notFound(say('This table'));
  await touchCabinet(owner, cabinet);
  const { tables, forms } = withinCabinet(await loadDefinitions(owner), cabinet);
  const table = tables.get(id);
  if (!table) throw notFound(say('This table'));
  if (revision !== undefined && table.revision !== revision)
    throw new Refusal(
      409,
      say(
        'Somebody else has changed this table meanwhile. It is shown as it is now: look, then make your change again.',
      ),
    );
  return {
    table,
    all: tables,
    forms,
    siblings: [...tables.values()].filter((one) => one.cabinet === cabinet && one.id !== id),
  };
}

export async function tableNow(owner: Transaction, id: string): Promise<TableDefinition> {
  const table = await loadTable(owner, id);
  if (!table) throw notFound(say('This table'));
  return table;
}
