import { type Condition, pathsOf } from '../conditions/index.ts';
import { homeOf, tableOfPart } from '../destinations/index.ts';
import type { Fill } from '../fills/index.ts';
import {
  type DefinedForm,
  type FieldLimits,
  type Item,
  isField,
  isSubform,
  isWhole,
  lineForm,
  linesTable,
  type PlacedField,
  type PreparedForm,
  prepareForm,
  SELF,
  type Subform,
  startsOf,
  withLineForm,
} from '../forms/index.ts';
import {
  type FieldId,
  findField,
  linkedTable,
  type TableDefinition,
  type TableId,
  type Tables,
} from '../tables/index.ts';
import { type Hidden, hiddenFrom, isHiddenPath, pointsAtHidden } from './hidden.ts';
import { rightTo } from './rightTo.ts';
import { type FieldLimit, type RoleDefinition, rightsTo } from './role.ts';

/**
 * What limits a role at the fields of forms: hidden ones, read-only ones, and links to records that it cannot see, which
 * it cannot choose either.
 */
export function limitsOf(role: RoleDefinition, tables: Tables): FieldLimits {
  const hidden = hiddenFrom(role, tables);
  return (table, id) => limitAt(role, hidden, tables, table, id);
}

function limitAt(
  role: RoleDefinition,
  hidden: Hidden,
  tables: Tables,
  table: TableId,
  id: FieldId,
): FieldLimit | undefined {
  if (!hidden.has(table) || hidden.get(table)?.has(id)) return 'hidden';
  const definition = tables.get(table);
  const field = findField(definition, id);
  if (!definition || !field) return undefined;
  const writes = [rightTo(role, 'add', definition, id), rightTo(role, 'change', definition, id)];
  const named = rightsTo(role, table).fields[id] !== undefined && writes.every((one) => one === 'no');
  return named || pointsAtHidden(hidden, field) ? 'readOnly' : undefined;
}

/** Whether a role is limited at any field of these tables, so that its forms differ from what they are. */
export const isLimitedAtFields = (role: RoleDefinition, tables: Tables): boolean =>
  [...tables.values()].some(
    (table) =>
      (rightTo(role, 'see', table) === 'no' && rightTo(role, 'add', table) === 'no') ||
      table.fields.some(
        (field) => rightsTo(role, table.id).fields[field.id] !== undefined && !role.rights.includes('build'),
      ),
  );

/** What a form with a role’s limits is made from. */
interface Making {
  readonly role: RoleDefinition;
  readonly tables: Tables;
  readonly hidden: Hidden;
}

/**
 * A form as a role has it, for its running in a browser: without what is hidden from the role and whatever would read
 * that, which the server adds when it saves; with what the role may not write as read-only.
 */
export function formForRole(role: RoleDefinition, definition: DefinedForm, tables: Tables): DefinedForm {
  const making = { role, tables, hidden: hiddenFrom(role, tables) };
  const made = within(making, definition, prepareForm(definition, tables));
  const table = tables.get(definition.table);
  const starts = startsOf(definition).map((start) => ({
    ...start,
    pairs: start.pairs.filter(
      ({ from }) => from === SELF || !isHiddenPath(making.hidden, tables, definition.table, from),
    ),
  }));
  // A form of a version before has no buttons, and stays as it is.
  return {
    ...made,
    ...(definition.starts ? { starts } : {}),
    may: table ? mayWith(role, table, definition.may) : NOTHING,
  };
}

const ANYTHING: DefinedForm['may'] = { add: true, change: true, archive: true };
const NOTHING: DefinedForm['may'] = { add: false, change: false, archive: false };

/** What of that which a form lets people do with records of a table a role may do. */
function mayWith(role: RoleDefinition, table: TableDefinition, form: DefinedForm['may']): DefinedForm['may'] {
  const may = (action: 'add' | 'change' | 'archive'): boolean => form[action] && rightTo(role, action, table) !== 'no';
  return { add: may('add'), change: may('change'), archive: may('archive') };
}

function within(making: Making, definition: DefinedForm, form: PreparedForm): DefinedForm {
  const reads = readsHidden(making, form);
  const open = (condition: Condition): boolean => !pathsOf(condition, 'form').some(reads);
  const ofForm = form.rules.slice(form.table.rules.length);
  return {
    ...definition,
    sections: definition.sections.map((section) => ({
      ...section,
      shownWhen: section.shownWhen && open(section.shownWhen) ? section.shownWhen : null,
      items: section.items.flatMap((item) => itemFor(making, item, form, reads)),
    })),
    rules: definition.rules.filter((rule, at) => !reads(rule.at) && !(ofForm[at]?.reads ?? []).some(reads)),
  };
}

/** Whether a path of a form reads what is hidden: a field, a column behind a link, a subform or a column of its lines. */
export function readsHidden({ tables, hidden }: Making, form: PreparedForm): (path: string) => boolean {
  return (path) => {
    const [root = '', ...rest] = path.split('.');
    const lines = form.subforms.get(root);
    if (!lines) {
      // A field of a destination is one of that table.
      const home = homeOf(form.definition, root);
      return isHiddenPath(hidden, tables, tableOfPart(form.definition, home.part), [home.field, ...rest].join('.'));
    }
    const table = lines.form.table.id;
    return !hidden.has(table) || (rest[0] !== undefined && isHiddenPath(hidden, tables, table, rest[0]));
  };
}

function itemFor(making: Making, item: Item, form: PreparedForm, reads: (path: string) => boolean): Item[] {
  if (isField(item)) return fieldFor(making, item, form, reads);
  if (isSubform(item)) return linesFor(making, item, form, reads);
  return item.kind === 'card' && reads(item.of) ? [] : [item];
}

function fieldFor(
  { role, tables, hidden }: Making,
  item: PlacedField,
  form: PreparedForm,
  reads: (path: string) => boolean,
): PlacedField[] {
  const home = homeOf(form.definition, item.field);
  const limit = limitAt(role, hidden, tables, tableOfPart(form.definition, home.part), home.field);
  if (limit === 'hidden') return [];
  const prepared = form.fields.get(item.field);
  const calculated = prepared?.calculation?.reads.some(reads) ?? false;
  const begun = prepared?.beginsWith?.reads.some(reads) ?? false;
  const closed = (condition: Condition | null): boolean => condition !== null && pathsOf(condition, 'form').some(reads);
  const { narrowing } = item;
  const source = tables.get(linkedTable(prepared?.field) ?? '');
  const shows = (column: string): boolean => !source || !isHiddenPath(hidden, tables, source.id, column);
  return [
    {
      ...item,
      readOnly: item.readOnly || limit === 'readOnly' || calculated,
      calculation: calculated ? null : item.calculation,
      initial: begun ? null : item.initial,
      shownWhen: closed(item.shownWhen) ? null : item.shownWhen,
      requiredWhen: closed(item.requiredWhen) ? null : item.requiredWhen,
      narrowing: narrowing && {
        ...narrowing,
        show: narrowing.show.filter(shows),
        sort: narrowing.sort !== null && shows(narrowing.sort) ? narrowing.sort : null,
        ...(narrowing.adds === undefined ? {} : { adds: narrowing.adds && mayAdd(role, source) }),
      },
      fill: withOffer(role, tables, fillFor(hidden, tables, form, item.fill)),
    },
  ];
}

const mayAdd = (role: RoleDefinition, table: TableDefinition | undefined): boolean =>
  table !== undefined && rightTo(role, 'add', table) !== 'no';

/** A fill that offers to add what it does not find only to a role that may add it. */
const withOffer = (role: RoleDefinition, tables: Tables, fill: Fill | null): Fill | null =>
  fill?.whenNone === 'offer' && !mayAdd(role, tables.get(fill.table)) ? { ...fill, whenNone: 'message' } : fill;

/** A fill with the pairs whose ends the role sees. */
function fillFor(hidden: Hidden, tables: Tables, form: PreparedForm, fill: Fill | null): Fill | null {
  if (!fill || !hidden.has(fill.table)) return null;
  if (fill.key !== null && isHiddenPath(hidden, tables, fill.table, fill.key)) return null;
  return {
    ...fill,
    pairs: fill.pairs.filter(
      ({ from, to }) =>
        (from === 'self' || !isHiddenPath(hidden, tables, fill.table, from)) &&
        !isHiddenPath(hidden, tables, form.table.id, to),
    ),
  };
}

function linesFor(making: Making, item: Subform, form: PreparedForm, reads: (path: string) => boolean): Subform[] {
  const { role, tables, hidden } = making;
  const prepared = form.subforms.get(item.id);
  const table = tables.get(item.table);
  if (!prepared || !table || !isWhole(item, linesTable(form.definition, item), tables)) return [item];
  if (!hidden.has(item.table) || hidden.get(item.table)?.has(item.link)) return [];
  const may = mayWith(role, table, item.may ?? ANYTHING);
  const made = withLineForm(item, within(making, lineForm(item, tables), prepared.form));
  return [
    {
      ...made,
      shownWhen: item.shownWhen && pathsOf(item.shownWhen, 'form').some(reads) ? null : item.shownWhen,
      ...(may.add && may.change && may.archive ? {} : { may }),
      fields: may.add || may.change ? made.fields : made.fields.map((field) => ({ ...field, readOnly: true })),
    },
  ];
}

/**
 * The fields of a form that something hidden from the role gives a value when they are blank: by a fill or as a default.
 * The browser leaves them to the server.
 */
export function filledFromHidden(role: RoleDefinition, form: PreparedForm): ReadonlySet<FieldId> {
  const making = { role, tables: form.tables, hidden: hiddenFrom(role, form.tables) };
  const reads = readsHidden(making, form);
  const given = new Set<FieldId>();
  for (const field of form.fields.values()) {
    if (field.beginsWith?.reads.some(reads)) given.add(field.id);
    const { fill } = field;
    const whole = fill && (reads(field.id) || fillFor(making.hidden, form.tables, form, fill) === null);
    for (const pair of fill?.pairs ?? [])
      if (whole || (pair.from !== 'self' && isHiddenPath(making.hidden, form.tables, fill?.table ?? '', pair.from)))
        given.add(pair.to);
  }
  return given;
}
