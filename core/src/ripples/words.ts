import { describeCondition } from '../conditions/index.ts';
import { isBlank } from '../fields/index.ts';
import { labelAt, namesOf } from '../forms/index.ts';
import { joinedWords } from '../languages/index.ts';
import {
  type EventKind,
  findField,
  type Ripple,
  type RippleEffect,
  type RippleSource,
  type TableDefinition,
  type Tables,
  typeOf,
} from '../tables/index.ts';
import { eventTable } from './event.ts';

/** The names along the path of a ripple: `Waived before`, `Vessel’s Owner`. */
export const eventLabel = (table: TableDefinition, tables: Tables, path: string): string =>
  labelAt(new Map(tables).set(table.id, eventTable(table)), table.id, path);

/** “added, changed or archived”. */
export const eventWords = (on: readonly EventKind[]): string =>
  on.length < 2 ? on.join('') : `${on.slice(0, -1).join(', ')} or ${on.at(-1)}`;

/** What a source gives, in words: `Waived before`, `the account`, “Storm”. */
export function sourceWords(
  from: RippleSource,
  to: string,
  source: TableDefinition,
  target: TableDefinition | undefined,
  tables: Tables,
): string {
  switch (from.kind) {
    case 'field':
      return eventLabel(source, tables, from.path);
    case 'calculation':
      return from.source;
    case 'record':
      return `this record of ${source.label}`;
    case 'account':
      return 'who saved';
    case 'now':
      return 'when it was saved';
    case 'summary':
      return 'what changed, in words';
    case 'value': {
      const field = findField(target, to);
      if (isBlank(from.value)) return 'nothing';
      return field && typeOf(field).accept(from.value, field.settings).ok
        ? `“${typeOf(field).format(from.value, field.settings)}”`
        : `“${String(from.value)}”`;
    }
  }
}

/** The table that an effect writes to; undefined for a message, and where it has gone. */
export const targetOf = (effect: RippleEffect, table: TableDefinition, tables: Tables): TableDefinition | undefined => {
  if (effect.does === 'message') return undefined;
  if (effect.does === 'add') return tables.get(effect.table);
  return tables.get(String(findField(eventTable(table), effect.link)?.settings.table));
};

/** What one effect does, in words: `add a line to Dues ledger with Stay = this record of Stays and By = who saved`. */
function effectWords(effect: RippleEffect, table: TableDefinition, tables: Tables): string {
  if (effect.does === 'message') {
    const to = effect.to.kind === 'account' ? effect.to.login : eventLabel(table, tables, effect.to.path);
    return `send the message “${effect.subject}” to ${to}`;
  }
  const target = targetOf(effect, table, tables);
  const values = effect.values.map(
    ({ to, from }) => `${findField(target, to)?.label ?? to} = ${sourceWords(from, to, table, target, tables)}`,
  );
  return effect.does === 'add'
    ? `add a line to ${target?.label ?? effect.table} with ${joinedWords(values)}`
    : `change the record at ${eventLabel(table, tables, effect.link)}: ${joinedWords(values)}`;
}

/** A ripple as one sentence: `When a record of Stays is added or changed, and Waived is yes: add a line to …`. */
export function rippleWords(ripple: Ripple, table: TableDefinition, tables: Tables): string {
  const naming = { tables: new Map(tables).set(table.id, eventTable(table)), table: table.id };
  const condition = describeCondition(ripple.when, namesOf(naming));
  const fields = ripple.fields.map((id) => findField(table, id)?.label ?? id);
  const moved =
    ripple.on.includes('changed') && fields.length > 0 ? ` (a change counts where ${joinedWords(fields)} changes)` : '';
  const what = ripple.effects.map((effect) => effectWords(effect, table, tables)).join('; then ');
  return `When a record of ${table.label} is ${eventWords(ripple.on)}${moved}${condition === '' ? '' : `, and ${condition}`}: ${what}.`;
}
