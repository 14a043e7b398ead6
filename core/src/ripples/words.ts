import { describeCondition } from '../conditions/index.ts';
import { isBlank } from '../fields/index.ts';
import { labelAt, namesOf } from '../forms/index.ts';
import { joinedWords, say } from '../languages/index.ts';
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
  on.length < 2 ? on.join('') : say('{first} or {last}', { first: on.slice(0, -1).join(', '), last: on.at(-1) ?? '' });

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
      return say('this record of {label}', { label: source.label });
    case 'account':
      return say('who saved');
    case 'now':
      return say('when it was saved');
    case 'summary':
      return say('what changed, in words');
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
    return say('send the message “{subject}” to {to}', { subject: effect.subject, to });
  }
  const target = targetOf(effect, table, tables);
  const values = effect.values.map(
    ({ to, from }) => `${findField(target, to)?.label ?? to} = ${sourceWords(from, to, table, target, tables)}`,
  );
  return effect.does === 'add'
    ? say('add a line to {label} with {values}', { label: target?.label ?? effect.table, values: joinedWords(values) })
    : say('change the record at {table}: {values}', {
        table: eventLabel(table, tables, effect.link),
        values: joinedWords(values),
      });
}

/** A ripple as one sentence: `When a record of Stays is added or changed, and Waived is yes: add a line to …`. */
export function rippleWords(ripple: Ripple, table: TableDefinition, tables: Tables): string {
  const naming = { tables: new Map(tables).set(table.id, eventTable(table)), table: table.id };
  const condition = describeCondition(ripple.when, namesOf(naming));
  const fields = ripple.fields.map((id) => findField(table, id)?.label ?? id);
  const moved =
    ripple.on.includes('changed') && fields.length > 0
      ? ` ${say('(a change counts where {fields} changes)', { fields: joinedWords(fields) })}`
      : '';
  const what = ripple.effects.map((effect) => effectWords(effect, table, tables)).join('; then ');
  return say('When a record of {label} is {on}{moved}{condition}: {what}.', {
    label: table.label,
    on: eventWords(ripple.on),
    moved,
    condition: condition === '' ? '' : say(', and {condition}', { condition }),
    what,
  });
}
