import { type Condition, describeCondition, EVERYTHING, type Group } from '../conditions/index.ts';
import { destinationWords, tablesOfForm } from '../destinations/index.ts';
import { sourceOf } from '../narrowing/index.ts';
import { type FieldDefinition, findField, type Initial, type Tables, typeOf } from '../tables/index.ts';
import { pageDifferences } from './comparePages.ts';
import {
  type DefinedForm,
  formFields,
  type Item,
  isField,
  isSubform,
  itemKey,
  OPENING_WORDS,
  type PlacedField,
  type Section,
  type Subform,
  subformsOf,
} from './form.ts';
import { afterSaveOf, startsOf } from './nextSteps.ts';
import { lineForm } from './subform.ts';
import { wordDifferences } from './wordDifferences.ts';
import { labelAt, type Naming, namesOf, ruleWords } from './words.ts';

/** One difference between two versions of a form, in words. */
export interface Difference {
  /** The field it is about; empty for the form itself. */
  readonly path: string;
  readonly words: string;
}

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/**
 * What changed from one version of a form to another, in words and in the order of the later one: `Departure became
 * required`, `Berth is now also narrowed by Draught is at most this form’s Draught`. Empty when nothing did.
 */
export function differences(before: DefinedForm, after: DefinedForm, whole: Tables): Difference[] {
  const tables = tablesOfForm(after, whole);
  return [
    ...ofForm(before, after, whole),
    ...ofSections(before, after, tables),
    ...ofFields(before, after, tables),
    ...ofSubforms(before, after, tables),
    ...ofRules(before, after, tables),
  ];
}

function ofForm(before: DefinedForm, after: DefinedForm, tables: Tables): Difference[] {
  const found: string[] = [];
  if (before.label !== after.label) found.push(`The form is now called ${after.label}; it was ${before.label}`);
  const verbs = { add: 'add records', change: 'change records', archive: 'archive records' } as const;
  for (const [key, words] of Object.entries(verbs) as [keyof typeof verbs, string][])
    if (before.may[key] !== after.may[key]) found.push(`It ${after.may[key] ? 'now may' : 'no longer may'} ${words}`);
  if (before.opensOn !== after.opensOn) found.push(`It now opens on ${OPENING_WORDS[after.opensOn]}`);
  if ((before.view ?? null) !== (after.view ?? null))
    found.push(
      after.view == null
        ? 'It now shows all records of its table'
        : `It now shows the records of ${before.view == null ? 'a' : 'another'} view`,
    );
  found.push(
    ...wordDifferences(
      destinationWords(before, tables),
      destinationWords(after, tables),
      'It now writes',
      'It no longer writes',
    ),
  );
  if (!same(afterSaveOf(before), afterSaveOf(after))) found.push('Something else follows a save');
  if (!same(startsOf(before), startsOf(after))) found.push('Its buttons to other forms changed');
  if (before.showStamp !== after.showStamp)
    found.push(after.showStamp ? 'It shows the audit fields' : 'It no longer shows the audit fields');
  if (!before.page && after.page) found.push(`It has a public page at /p/${after.page.slug}`);
  else if (before.page && !after.page) found.push('It has no public page any more');
  else if (before.page && after.page) found.push(...pageDifferences(before, after, tables));
  return found.map((words) => ({ path: '', words }));
}

const sectionName = (section: Section, at: number): string =>
  section.label === '' ? `The section ${at + 1}` : `The section ${section.label}`;

function ofSections(before: DefinedForm, after: DefinedForm, tables: Tables): Difference[] {
  const found: string[] = [];
  const names = namesOf({ tables, table: after.table, subforms: subformsOf(after) });
  after.sections.forEach((section, at) => {
    const old = before.sections.find((one) => one.id === section.id);
    const name = sectionName(section, at);
    if (!old) {
      found.push(`${name} is new`);
      return;
    }
    if (old.label !== section.label)
      found.push(`The section ${old.label || at + 1} is now called ${section.label || 'nothing'}`);
    if (old.columns !== section.columns)
      found.push(`${name} now has ${section.columns} ${section.columns === 1 ? 'column' : 'columns'}`);
    if (!same(old.shownWhen, section.shownWhen)) found.push(whenWords(name, 'shown', section.shownWhen, names));
    const words = (one: Section): Item[] => one.items.filter((item) => !isField(item));
    for (const item of words(section))
      if (!words(old).some((other) => itemKey(other) === itemKey(item)))
        found.push(`${name} has a new ${itemWords(item, tables, after)}`);
      else if (!isSubform(item) && !words(old).some((other) => same(other, item)))
        found.push(`${name} has a changed ${itemWords(item, tables, after)}`);
    for (const item of words(old))
      if (!words(section).some((other) => itemKey(other) === itemKey(item)))
        found.push(`${name} has lost its ${itemWords(item, tables, before)}`);
  });
  before.sections.forEach((section, at) => {
    if (!after.sections.some((one) => one.id === section.id)) found.push(`${sectionName(section, at)} is gone`);
  });
  return found.map((words) => ({ path: '', words }));
}

const itemWords = (item: Item, tables: Tables, form: DefinedForm): string =>
  isField(item)
    ? 'field'
    : item.kind === 'card'
      ? `reference card of ${labelAt(tables, form.table, item.of)}`
      : item.kind === 'subform'
        ? `subform ${subformName(item, tables)}`
        : `${item.kind} “${item.text.slice(0, 60)}”`;

const subformName = (subform: Subform, tables: Tables): string =>
  subform.label ?? tables.get(subform.table)?.label ?? subform.id;

/** What changed within the subforms that both versions have: their lines’ fields and rules read like a form’s. */
function ofSubforms(before: DefinedForm, after: DefinedForm, tables: Tables): Difference[] {
  const names = namesOf({ tables, table: after.table, subforms: subformsOf(after) });
  return subformsOf(after).flatMap((subform): Difference[] => {
    const old = subformsOf(before).find((one) => one.id === subform.id);
    if (!old || same(old, subform)) return [];
    const name = subformName(subform, tables);
    const found: string[] = [];
    if (subformName(old, tables) !== name) found.push(`The subform ${subformName(old, tables)} is now called ${name}`);
    if (old.as !== subform.as) found.push(`${name} is entered as ${subform.as} now`);
    if (old.least !== subform.least) found.push(`${name} needs ${subform.least ?? 'no'} lines at least`);
    if (old.most !== subform.most)
      found.push(`${name} holds ${subform.most === null ? 'any number of' : `at most ${subform.most}`} lines`);
    if (!same(old.shownWhen, subform.shownWhen)) found.push(whenWords(name, 'shown', subform.shownWhen, names));
    return [
      ...found,
      ...differences(lineForm(old, tables), lineForm(subform, tables), tables)
        .filter((one) => !one.words.startsWith('The form is now called'))
        .map((one) => `${name}: ${one.words}`),
    ].map((words) => ({ path: subform.id, words }));
  });
}

const whenWords = (
  name: string,
  what: 'shown' | 'required',
  condition: Group | null,
  names: ReturnType<typeof namesOf>,
): string =>
  condition === null
    ? what === 'shown'
      ? `${name} is always shown now`
      : `${name} is no longer required under a condition`
    : `${name} is now ${what} when ${describeCondition(condition, names)}`;

function ofFields(before: DefinedForm, after: DefinedForm, tables: Tables): Difference[] {
  const [old, now] = [formFields(before), formFields(after)];
  const table = tables.get(after.table);
  const labelOf = (one: PlacedField): string => one.label ?? findField(table, one.field)?.label ?? one.field;
  const found: Difference[] = [];
  for (const one of now) {
    const was = old.find((other) => other.field === one.field);
    const say = (words: string) => found.push({ path: one.field, words });
    if (!was) {
      say(`${labelOf(one)} was added`);
      continue;
    }
    if (labelOf(was) !== labelOf(one)) say(`${labelOf(was)} is now called ${labelOf(one)}`);
    for (const words of fieldDifferences(was, one, labelOf(one), findField(table, one.field), tables, after))
      say(words);
  }
  for (const one of old)
    if (!now.some((other) => other.field === one.field))
      found.push({ path: one.field, words: `${labelOf(one)} was taken off` });
  return [...found, ...moved(before, after, labelOf)];
}

/** Fields that stand in another section, or in another order among those that both versions have. */
function moved(before: DefinedForm, after: DefinedForm, labelOf: (one: PlacedField) => string): Difference[] {
  const home = (form: DefinedForm, id: string) =>
    form.sections.find((section) => section.items.some((item) => itemKey(item) === id));
  const both = formFields(after).filter((one) => formFields(before).some((other) => other.field === one.field));
  const elsewhere = both.filter((one) => home(before, one.field)?.id !== home(after, one.field)?.id);
  const stayed = both.filter((one) => !elsewhere.includes(one)).map((one) => one.field);
  const order = formFields(before)
    .map((one) => one.field)
    .filter((id) => stayed.includes(id));
  return [
    ...elsewhere.map((one) => ({
      path: one.field,
      words: `${labelOf(one)} moved to ${home(after, one.field)?.label ? `the section ${home(after, one.field)?.label}` : 'another section'}`,
    })),
    ...(same(order, stayed) ? [] : [{ path: '', words: 'The order of the fields changed' }]),
  ];
}

function fieldDifferences(
  was: PlacedField,
  one: PlacedField,
  label: string,
  field: FieldDefinition | undefined,
  tables: Tables,
  form: DefinedForm,
): string[] {
  const found: string[] = [];
  const names = namesOf({ tables, table: form.table, subforms: subformsOf(form) });
  if (was.help !== one.help)
    found.push(one.help === null ? `${label} has the table’s help text again` : `${label} has another help text`);
  if (was.required !== one.required)
    found.push(`${label} ${one.required ? 'became required' : 'is no longer required'}`);
  if (!same(was.requiredWhen, one.requiredWhen)) found.push(whenWords(label, 'required', one.requiredWhen, names));
  if (!same(was.shownWhen, one.shownWhen)) found.push(whenWords(label, 'shown', one.shownWhen, names));
  if (was.keepHidden !== one.keepHidden)
    found.push(one.keepHidden ? `${label} keeps its value while hidden` : `${label} is saved as blank while hidden`);
  if (was.readOnly !== one.readOnly)
    found.push(one.readOnly ? `${label} is only shown now` : `${label} can be filled in now`);
  if (!same(was.initial, one.initial)) found.push(`${label} begins with ${initialWords(one.initial, field)}`);
  if (was.calculation !== one.calculation)
    found.push(
      one.calculation === null
        ? `${label} is no longer calculated`
        : `${label} is now calculated as ${one.calculation}`,
    );
  return [
    ...found,
    ...narrowingDifferences(was, one, label, field, tables, form),
    ...fillDifferences(was, one, label, tables, form),
  ];
}

const initialWords = (initial: Initial | null, field: FieldDefinition | undefined): string =>
  initial === null
    ? 'what the table says'
    : initial.kind === 'value'
      ? initial.value === null || !field
        ? 'nothing'
        : typeOf(field).format(initial.value, field.settings)
      : initial.kind === 'calculation'
        ? initial.source
        : { today: 'today', now: 'the present moment', account: 'the account' }[initial.kind];

function narrowingDifferences(
  was: PlacedField,
  one: PlacedField,
  label: string,
  field: FieldDefinition | undefined,
  tables: Tables,
  form: DefinedForm,
): string[] {
  const source = field && sourceOf(field);
  if (!source) return [];
  const naming: Naming = { tables, table: form.table, choices: source.table, sides: true };
  const names = namesOf(naming);
  const [old, now] = [was.narrowing?.where ?? EVERYTHING, one.narrowing?.where ?? EVERYTHING];
  const found: string[] = [];
  const only = (among: readonly Condition[], other: readonly Condition[]): Condition[] =>
    among.filter((condition) => !other.some((one) => same(one, condition)));
  if (old.match === now.match)
    found.push(
      ...only(now.of, old.of).map(
        (one) => `${label} is now ${old.of.length > 0 ? 'also ' : ''}narrowed: ${describeCondition(one, names)}`,
      ),
      ...only(old.of, now.of).map((one) => `${label} is no longer narrowed: ${describeCondition(one, names)}`),
    );
  else found.push(`${label} is narrowed differently: ${describeCondition(now, names)}`);
  const column = (id: string | null): string => (id === null ? 'the title' : labelAt(tables, source.table, id));
  const [a, b] = [was.narrowing, one.narrowing];
  if ((a?.sort ?? null) !== (b?.sort ?? null))
    found.push(`The choices of ${label} are sorted by ${column(b?.sort ?? null)}`);
  if (!same(a?.show ?? [], b?.show ?? []))
    found.push(
      (b?.show ?? []).length === 0
        ? `The choices of ${label} show nothing beside them`
        : `The choices of ${label} show ${(b?.show ?? []).map(column).join(', ')}`,
    );
  if ((a?.view ?? null) !== (b?.view ?? null))
    found.push(
      b?.view == null
        ? `${label} no longer offers the records of a view only`
        : `${label} now offers the records of ${a?.view == null ? 'a' : 'another'} view only`,
    );
  if ((a?.adds ?? false) !== (b?.adds ?? false))
    found.push(b?.adds ? `A new one can be added at ${label}` : `No new one can be added at ${label} any more`);
  if ((a?.only ?? false) !== (b?.only ?? false))
    found.push(
      b?.only ? `${label} is chosen by itself when one choice is left` : `${label} is no longer chosen by itself`,
    );
  return found;
}

function fillDifferences(
  was: PlacedField,
  one: PlacedField,
  label: string,
  tables: Tables,
  form: DefinedForm,
): string[] {
  if (same(was.fill, one.fill)) return [];
  const named = (id: string): string => labelAt(tables, form.table, id);
  const [old, now] = [was.fill?.pairs ?? [], one.fill?.pairs ?? []];
  const found = [
    ...now
      .filter((pair) => !old.some((other) => other.to === pair.to))
      .map((pair) => `${label} now fills ${named(pair.to)}`),
    ...old
      .filter((pair) => !now.some((other) => other.to === pair.to))
      .map((pair) => `${label} no longer fills ${named(pair.to)}`),
    ...now
      .filter((pair) => old.some((other) => other.to === pair.to && !same(other, pair)))
      .map((pair) => `${label} fills ${named(pair.to)} differently`),
  ];
  if (was.fill && one.fill && (was.fill.key !== one.fill.key || was.fill.table !== one.fill.table))
    found.push(`${label} is looked up in another place`);
  if (was.fill && one.fill && was.fill.whenNone !== one.fill.whenNone)
    found.push(`${label} does something else when nothing is found`);
  return found;
}

function ofRules(before: DefinedForm, after: DefinedForm, tables: Tables): Difference[] {
  const names = namesOf({ tables, table: after.table, subforms: subformsOf(after) });
  return [
    ...after.rules.flatMap((rule): Difference[] => {
      const old = before.rules.find((one) => one.id === rule.id);
      if (!old) return [{ path: rule.at, words: `New rule: ${ruleWords(rule, names)}` }];
      if (same(old, rule)) return [];
      const words = ruleWords(rule, names);
      return [
        words === ruleWords(old, names)
          ? { path: rule.at, words: `The examples of the rule “${rule.message}” changed` }
          : { path: rule.at, words: `Changed rule: ${words}` },
      ];
    }),
    ...before.rules
      .filter((rule) => !after.rules.some((one) => one.id === rule.id))
      .map((rule) => ({ path: rule.at, words: `Rule removed: “${rule.message}”` })),
  ];
}
