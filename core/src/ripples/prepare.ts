import { type Give, giveOf } from '../changes/index.ts';
import { type Condition, dayFrom, holds, type Operand, operandsOf, otherSide } from '../conditions/index.ts';
import {
  holdsAddress,
  isBlank,
  linksOne,
  type Problem,
  type Value,
  type Values,
  withArticle,
} from '../fields/index.ts';
import { labelAt } from '../forms/index.ts';
import {
  BEFORE,
  type FieldDefinition,
  fieldAtPath,
  findField,
  isGiven,
  type RecordId,
  type Ripple,
  type RippleEffect,
  type RippleSource,
  type RippleValue,
  type TableDefinition,
  type Tables,
  typeOf,
} from '../tables/index.ts';
import { eventTable, type RippleEvent, readEvent, summaryOf } from './event.ts';

/** What one effect of a ripple comes to for a save; `table` is where it writes. */
export type PreparedEffect =
  | {
      readonly does: 'add';
      readonly table: TableDefinition;
      /** The links that get the saved record itself. */
      readonly linksBack: ReadonlySet<string>;
      valuesOf(event: RippleEvent): Values;
    }
  | {
      readonly does: 'change';
      readonly table: TableDefinition;
      /** The record that it changes; null where the link is blank. */
      recordOf(event: RippleEvent): RecordId | null;
      valuesOf(event: RippleEvent): Values;
    }
  | {
      readonly does: 'message';
      /** Whom it is for: an address, or the login of an account; null where the field is blank. */
      receiverOf(event: RippleEvent): { readonly address: string } | { readonly login: string } | null;
      messageOf(event: RippleEvent): { readonly subject: string; readonly body: string };
    };

/** A ripple that can run. */
export interface PreparedRipple {
  readonly ripple: Ripple;
  /** The paths behind links of the saved record that it reads: `vessel.owner`, `before__berth.pontoon`. */
  readonly reads: readonly string[];
  /** Whether it follows this save. */
  follows(event: RippleEvent): boolean;
  readonly effects: readonly PreparedEffect[];
}

/** The places that the text of a message can have besides fields. */
export const MESSAGE_PLACES: Readonly<Record<string, string>> = {
  record: 'what the record is called',
  change: 'what changed, in words',
  account: 'who saved',
};

const PLACE = /\{([a-z][a-z0-9_.]*)\}/g;

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
    refuse: (path, message) => problems.push({ path, rule: 'ripple', message }),
  };
  for (const id of ripple.fields)
    if (!findField(table, id)) around.refuse('fields', `${id} is not a field of ${table.label} any more. Remove it.`);
  checkCondition(ripple, around);
  const effects = ripple.effects.flatMap((effect, at) => prepareEffect(effect, `effects.${at}`, around) ?? []);
  if (problems.length > 0) return { problems };
  return {
    ripple,
    reads: [...around.reads].filter((path) => path.includes('.')),
    follows: (event) => followsSave(ripple, event),
    effects,
  };
}

interface Around {
  /** The table of the saved record with its fields before and after; `tables` has it in place of the stored one. */
  readonly source: TableDefinition;
  readonly tables: Tables;
  readonly stored: Tables;
  readonly reads: Set<string>;
  refuse(path: string, message: string): void;
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
      refuse('when', 'A ripple reads fields of the saved record only.');
    if (operand.kind !== 'form') continue;
    reads.add(operand.path);
    if (!fieldAtPath(tables, source.id, operand.path))
      refuse('when', `${operand.path} is not a field of ${source.label}. Change or remove its condition.`);
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
        `${left.label} is ${withArticle(typeOf(left))} and cannot be compared with ${right.label}, ${withArticle(typeOf(right))}.`,
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
    around.refuse(place, `${findField(target, twice.to)?.label ?? twice.to} is written twice. Remove one of them.`);
  const valuesOf = (event: RippleEvent): Values => Object.fromEntries(gives.map(([id, give]) => [id, give(event)]));
  if (effect.does === 'add') {
    const given = new Set(effect.values.map((one) => one.to as string));
    for (const field of target.fields)
      if (field.required && field.initial === null && !isGiven(field) && !given.has(field.id))
        around.refuse(place, `${field.label} of ${target.label} is required. Say what it gets.`);
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
      ? `${table.label} takes no lines of ripples: choose a table of records in use.`
      : `${id} is not a table any more. Choose another.`,
  );
  return undefined;
}

/** The table whose record a link points at; undefined, with a problem, where the field is no link to one. */
function changedBy(link: string, place: string, { source, stored, refuse }: Around): TableDefinition | undefined {
  const field = findField(source, link);
  const table = linksOne(field ?? undefined) ? stored.get(String(field?.settings.table)) : undefined;
  if (table && table.kind === 'records' && !table.archived) return table;
  refuse(place, `${field?.label ?? link} is no link to a record in use. Choose a link of ${source.label}.`);
  return undefined;
}

type GiveOfEvent = (event: RippleEvent) => Value;

/** What a source gives a field of the target; undefined, with a problem, where it does not fit. */
function sourceOf(
  { to, from }: RippleValue,
  place: string,
  target: TableDefinition,
  { source, tables, reads, refuse }: Around,
): GiveOfEvent | undefined {
  const wrong = (message: string): undefined => {
    refuse(place, message);
    return undefined;
  };
  const field = findField(target, to);
  if (!field) return wrong(`${to} is not a field of ${target.label} any more. Remove it.`);
  if (isGiven(field)) return wrong(`${field.label} is given by the system: a ripple cannot write it.`);
  const special = specialSource(from, field, source);
  if (typeof special === 'string') return wrong(special);
  if (special) return special;
  const becomes =
    from.kind === 'value' && isBlank(from.value)
      ? ({ kind: 'blank' } as const)
      : (from as Exclude<typeof from, Special>);
  const given = giveOf(becomes, field, source, tables);
  if (typeof given === 'string') return wrong(given);
  for (const path of given.reads) reads.add(path);
  const { give }: { readonly give: Give } = given;
  return (event) => give({ now: event.now, at: (path) => readEvent(event, path) });
}

type Special = Extract<RippleSource, { kind: 'record' | 'account' | 'now' | 'summary' }>;

/** A source that is no value of the record; in words why it does not fit, undefined for any other source. */
function specialSource(
  from: RippleSource,
  field: FieldDefinition,
  source: TableDefinition,
): GiveOfEvent | string | undefined {
  const type = typeOf(field);
  const no = (what: string): string => `${field.label} is ${withArticle(type)}, which cannot hold ${what}.`;
  switch (from.kind) {
    case 'record':
      return linksOne(field) && field.settings.table === source.id
        ? (event) => event.record
        : `${field.label} does not link to ${source.label}.`;
    case 'account':
      return type.startsWithAccount ? (event) => event.account : no('an account');
    case 'now':
      return type.moments?.now ? (event) => type.moments?.now?.(event.now) ?? null : no('a moment');
    case 'summary': {
      if (type.family !== 'text') return no('words');
      const most = Number(field.settings.mostLength ?? 1_900);
      return (event) => shortened(summaryOf(event), most);
    }
    default:
      return undefined;
  }
}

const shortened = (text: string, most: number): string => (text.length <= most ? text : `${text.slice(0, most - 1)}…`);

function prepareMessage(
  { to, subject, text }: Extract<RippleEffect, { does: 'message' }>,
  place: string,
  { source, tables, reads, refuse }: Around,
): PreparedEffect {
  const known = (path: string): FieldDefinition | undefined => {
    reads.add(path);
    return fieldAtPath(tables, source.id, path);
  };
  if (to.kind === 'field') {
    const field = known(to.path);
    if (!field) refuse(`${place}.to`, `${to.path} is not a field of ${source.label} any more. Choose another.`);
    else if (!holdsAddress(field))
      refuse(`${place}.to`, `${field.label} holds no e-mail address. Choose a field that does.`);
  }
  for (const [, path = ''] of `${subject} ${text}`.matchAll(PLACE))
    if (!Object.hasOwn(MESSAGE_PLACES, path) && !known(path))
      refuse(place, `{${path}} is not a field of ${source.label}. Correct it, or take the braces away.`);
  const filled = (template: string, event: RippleEvent): string =>
    template.replaceAll(PLACE, (_place, path: string) => placeWords(path, event, fieldAtPath(tables, source.id, path)));
  return {
    does: 'message',
    receiverOf: (event) => {
      if (to.kind === 'account') return { login: to.login };
      const address = readEvent(event, to.path);
      return typeof address === 'string' && address !== '' ? { address } : null;
    },
    messageOf: (event) => ({ subject: shortened(filled(subject, event), 200), body: filled(text, event) }),
  };
}

/** What stands in a message in the place of a path. */
function placeWords(path: string, event: RippleEvent, field: FieldDefinition | undefined): string {
  if (path === 'record') return event.title;
  if (path === 'change') return summaryOf(event);
  if (path === 'account') return event.account;
  const value = readEvent(event, path);
  if (!field || isBlank(value)) return '';
  const named = event.changes.find((one) => one.field === path.replace(BEFORE, ''));
  if (linksOne(field) && named) return path.startsWith(BEFORE) ? named.before : named.after;
  return typeOf(field).format(value, field.settings);
}

/** Why a source cannot give a field of the target what it holds, in words; undefined where it can. */
export function sourceMisfit(
  value: RippleValue,
  table: TableDefinition,
  target: TableDefinition,
  tables: Tables,
): string | undefined {
  let misfit: string | undefined;
  const source = eventTable(table);
  sourceOf(value, '', target, {
    source,
    tables: new Map(tables).set(table.id, source),
    stored: tables,
    reads: new Set(),
    refuse: (_path, message) => {
      misfit = message;
    },
  });
  return misfit;
}

/**
 * The values proposed for a line that a ripple adds: links back to the record, fields of equal labels and fitting types, and for
 * required fields who saved and when. A proposal only: nothing depends on the spelling afterwards.
 */
export function proposeValues(table: TableDefinition, target: TableDefinition, tables: Tables): RippleValue[] {
  const bare = (label: string): string => label.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '');
  const same = (field: FieldDefinition): RippleSource[] =>
    eventTable(table)
      .fields.filter((one) => bare(one.label) === bare(field.label))
      .map(({ id }) => ({ kind: 'field', path: id }));
  const given = (field: FieldDefinition): RippleSource[] =>
    field.required && field.initial === null ? [{ kind: 'now' }, { kind: 'account' }] : [];
  return target.fields.flatMap((field): RippleValue[] => {
    const sources: RippleSource[] = [{ kind: 'record' }, ...same(field), ...given(field)];
    const from = sources.find((one) => sourceMisfit({ to: field.id, from: one }, table, target, tables) === undefined);
    return from ? [{ to: field.id, from }] : [];
  });
}

/** The names along the path of a ripple: `Waived before`, `Vessel’s Owner`. */
export const eventLabel = (table: TableDefinition, tables: Tables, path: string): string =>
  labelAt(new Map(tables).set(table.id, eventTable(table)), table.id, path);
