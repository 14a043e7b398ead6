import { type Condition, dayFrom, holds, type Operand, operandsOf, otherSide } from '../conditions/index.ts';
import { linksOne, type Problem, type Value, type Values, withArticle } from '../fields/index.ts';
import { linksIn } from '../history/index.ts';
import { say } from '../languages/index.ts';
import {
  fieldAtPath,
  findField,
  isGiven,
  type Ripple,
  type RippleEffect,
  type TableDefinition,
  type Tables,
  typeOf,
} from '../tables/index.ts';
import { eventTable, type RippleEvent, readEvent } from './event.ts';
import { prepareMessage } from './message.ts';
import type { Around, PreparedEffect, PreparedRipple } from './prepared.ts';
import { type GiveOfEvent, sourceOf } from './source.ts';

/**
 * Makes a ripple of a table ready to run; or says what is wrong with it, each problem with the path of its place: a field that
 * is not there, a value that cannot stand where it is put, a required field without a source.
 */
export function prepareRipple(
  ripple: Ripple,
  table: TableDefinition,
  tables: Tables,
): PreparedRipple | { readonly problems: readonly Problem[] } {
  const problems: Problem[] = [];
  const around: Around = {
    source: eventTable(table),
    tables: new Map(tables).set(table.id, eventTable(table)),
    stored: tables,
    reads: new Set(),
    named: new Set(),
    refuse: (path, message) => problems.push({ path, rule: 'ripple', message }),
  };
  for (const id of ripple.fields)
    if (!findField(table, id))
      around.refuse('fields', say('{id} is not a field of {label} any more. Remove it.', { id, label: table.label }));
  checkCondition(ripple, around);
  const effects = ripple.effects.flatMap((effect, at) => prepareEffect(effect, `effects.${at}`, around) ?? []);
  if (problems.length > 0) return { problems };
  return {
    ripple,
    table,
    reads: [...around.reads].filter((path) => path.includes('.')),
    named: (event) =>
      [...around.named].flatMap((path) => {
        const field = fieldAtPath(around.tables, around.source.id, path);
        return field ? linksIn([field], { [field.id]: readEvent(event, path) }) : [];
      }),
    follows: (event) => followsSave(ripple, event),
    effects,
  };
}

function followsSave(ripple: Ripple, event: RippleEvent): boolean {
  if (ripple.paused || !ripple.on.includes(event.kind)) return false;
  if (event.kind === 'changed' && ripple.fields.length > 0 && !ripple.fields.some((id) => event.changed.has(id)))
    return false;
  return holds(ripple.when, (operand) => operandOf(event, operand));
}

function operandOf(event: RippleEvent, operand: Operand): Value {
  switch (operand.kind) {
    case 'form':
      return readEvent(event, operand.path);
    case 'constant':
      return operand.value;
    case 'account':
      return event.account;
    case 'today':
      return dayFrom(event.now, operand);
    default:
      return null;
  }
}

/** Checks that the condition reads fields that are there, and compares what can be compared. */
function checkCondition({ when }: Ripple, { source, tables, reads, refuse }: Around): void {
  for (const operand of operandsOf(when)) {
    if (operand.kind === 'column' || operand.kind === 'enclosing' || operand.kind === 'asked')
      refuse('when', say('A ripple reads fields of the saved record only.'));
    if (operand.kind !== 'form') continue;
    reads.add(operand.path);
    if (!fieldAtPath(tables, source.id, operand.path))
      refuse(
        'when',
        say('{path} is not a field of {label}. Change or remove its condition.', {
          path: operand.path,
          label: source.label,
        }),
      );
  }
  const compare = (condition: Condition): void => {
    if (condition.kind === 'group') {
      for (const one of condition.of) compare(one);
      return;
    }
    if (!('right' in condition) || condition.left.kind !== 'form' || condition.right.kind !== 'form') return;
    const [left, right] = [condition.left.path, condition.right.path].map((path) =>
      fieldAtPath(tables, source.id, path),
    );
    if (!left || !right) return;
    const wanted =
      condition.operator === 'has' || condition.operator === 'hasNot'
        ? otherSide(typeOf(left).family)
        : typeOf(left).family;
    if (wanted !== typeOf(right).family)
      refuse(
        'when',
        say('{label} is {left} and cannot be compared with {other}, {right}.', {
          label: left.label,
          left: withArticle(typeOf(left)),
          other: right.label,
          right: withArticle(typeOf(right)),
        }),
      );
  };
  compare(when);
}

function prepareEffect(effect: RippleEffect, place: string, around: Around): PreparedEffect | undefined {
  if (effect.does === 'message') return prepareMessage(effect, place, around);
  const target = effect.does === 'add' ? addedTo(effect.table, place, around) : changedBy(effect.link, place, around);
  if (!target) return undefined;
  const gives = effect.values.flatMap((one, at): [string, GiveOfEvent][] => {
    const give = sourceOf(one, `${place}.values.${at}`, target, around);
    return give ? [[one.to, give]] : [];
  });
  const twice = effect.values.find((one, at) => effect.values.findIndex((other) => other.to === one.to) !== at);
  if (twice)
    around.refuse(
      place,
      say('{label} is written twice. Remove one of them.', { label: findField(target, twice.to)?.label ?? twice.to }),
    );
  const valuesOf = (event: RippleEvent): Values => Object.fromEntries(gives.map(([id, give]) => [id, give(event)]));
  if (effect.does === 'add') {
    const given = new Set(effect.values.map((one) => one.to as string));
    for (const field of target.fields)
      if (field.required && field.initial === null && !isGiven(field) && !given.has(field.id))
        around.refuse(
          place,
          say('{label} of {other} is required. Say what it gets.', { label: field.label, other: target.label }),
        );
    const linksBack = new Set(effect.values.flatMap(({ to, from }) => (from.kind === 'record' ? [to as string] : [])));
    return { does: 'add', table: target, linksBack, valuesOf };
  }
  const { link } = effect;
  return {
    does: 'change',
    table: target,
    recordOf: (event) => {
      const id = event.values[link];
      return typeof id === 'number' ? id : null;
    },
    valuesOf,
  };
}

/** The table that lines are added to; undefined, with a problem, where none can be. */
function addedTo(id: string, place: string, { source, stored, refuse }: Around): TableDefinition | undefined {
  const table = stored.get(id);
  if (table && table.cabinet === source.cabinet && table.kind === 'records' && !table.archived) return table;
  refuse(
    place,
    table
      ? say('{label} takes no lines of ripples: choose a table of records in use.', { label: table.label })
      : say('{id} is not a table any more. Choose another.', { id }),
  );
  return undefined;
}

/** The table whose record a link points at; undefined, with a problem, where the field is no link to one. */
function changedBy(link: string, place: string, { source, stored, refuse }: Around): TableDefinition | undefined {
  const field = findField(source, link);
  const table = linksOne(field ?? undefined) ? stored.get(String(field?.settings.table)) : undefined;
  if (table && table.kind === 'records' && !table.archived) return table;
  refuse(
    place,
    say('{label} is no link to a record in use. Choose a link of {other}.', {
      label: field?.label ?? link,
      other: source.label,
    }),
  );
  return undefined;
}
