import { destinationWords, tablesOfForm } from '../destinations/index.ts';
import { say, sayCount } from '../languages/index.ts';
import { findField, type Tables } from '../tables/index.ts';
import { fieldDifferences, same, whenWords } from './compareFields.ts';
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
import { labelAt, namesOf, ruleWords } from './words.ts';

/** One difference between two versions of a form, in words. */
export interface Difference {
  /** The field it is about; empty for the form itself. */
  readonly path: string;
  readonly words: string;
}

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
  if (before.label !== after.label)
    found.push(say('The form is now called {label}; it was {other}', { label: after.label, other: before.label }));
  const verbs = { add: say('add records'), change: say('change records'), archive: say('archive records') } as const;
  for (const [key, words] of Object.entries(verbs) as [keyof typeof verbs, string][])
    if (before.may[key] !== after.may[key])
      found.push(say('It {key} {words}', { key: after.may[key] ? say('now may') : say('no longer may'), words }));
  if (before.opensOn !== after.opensOn)
    found.push(say('It now opens on {opening}', { opening: say(OPENING_WORDS[after.opensOn]) }));
  if ((before.view ?? null) !== (after.view ?? null))
    found.push(
      after.view == null
        ? say('It now shows all records of its table')
        : say('It now shows the records of {view} view', { view: before.view == null ? 'a' : 'another' }),
    );
  found.push(
    ...wordDifferences(
      destinationWords(before, tables),
      destinationWords(after, tables),
      say('It now writes'),
      say('It no longer writes'),
    ),
  );
  if (!same(afterSaveOf(before), afterSaveOf(after))) found.push(say('Something else follows a save'));
  if (!same(startsOf(before), startsOf(after))) found.push(say('Its buttons to other forms changed'));
  if (before.showStamp !== after.showStamp)
    found.push(after.showStamp ? say('It shows the audit fields') : say('It no longer shows the audit fields'));
  if (!before.page && after.page) found.push(say('It has a public page at /p/{slug}', { slug: after.page.slug }));
  else if (before.page && !after.page) found.push(say('It has no public page any more'));
  else if (before.page && after.page) found.push(...pageDifferences(before, after, tables));
  return found.map((words) => ({ path: '', words }));
}

const sectionName = (section: Section, at: number): string =>
  section.label === '' ? say('The section {at}', { at: at + 1 }) : say('The section {label}', { label: section.label });

function ofSections(before: DefinedForm, after: DefinedForm, tables: Tables): Difference[] {
  const found: string[] = [];
  const names = namesOf({ tables, table: after.table, subforms: subformsOf(after) });
  after.sections.forEach((section, at) => {
    const old = before.sections.find((one) => one.id === section.id);
    const name = sectionName(section, at);
    if (!old) {
      found.push(say('{name} is new', { name }));
      return;
    }
    if (old.label !== section.label)
      found.push(
        say('The section {label} is now called {other}', {
          label: old.label || at + 1,
          other: section.label || 'nothing',
        }),
      );
    if (old.columns !== section.columns)
      found.push(
        sayCount(section.columns, '{name} now has {count} column', '{name} now has {count} columns', { name }),
      );
    if (!same(old.shownWhen, section.shownWhen)) found.push(whenWords(name, 'shown', section.shownWhen, names));
    const words = (one: Section): Item[] => one.items.filter((item) => !isField(item));
    for (const item of words(section))
      if (!words(old).some((other) => itemKey(other) === itemKey(item)))
        found.push(say('{name} has a new {item}', { name, item: itemWords(item, tables, after) }));
      else if (!isSubform(item) && !words(old).some((other) => same(other, item)))
        found.push(say('{name} has a changed {item}', { name, item: itemWords(item, tables, after) }));
    for (const item of words(old))
      if (!words(section).some((other) => itemKey(other) === itemKey(item)))
        found.push(say('{name} has lost its {item}', { name, item: itemWords(item, tables, before) }));
  });
  before.sections.forEach((section, at) => {
    if (!after.sections.some((one) => one.id === section.id))
      found.push(say('{section} is gone', { section: sectionName(section, at) }));
  });
  return found.map((words) => ({ path: '', words }));
}

const itemWords = (item: Item, tables: Tables, form: DefinedForm): string =>
  isField(item)
    ? 'field'
    : item.kind === 'card'
      ? say('reference card of {tables}', { tables: labelAt(tables, form.table, item.of) })
      : item.kind === 'subform'
        ? say('subform {item}', { item: subformName(item, tables) })
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
    // What the subform is called is told once, above its lines.
    const now = lineForm(subform, tables);
    const found: string[] = [];
    if (subformName(old, tables) !== name)
      found.push(say('The subform {old} is now called {name}', { old: subformName(old, tables), name }));
    if (old.as !== subform.as) found.push(say('{name} is entered as {as} now', { name, as: subform.as }));
    if (old.least !== subform.least)
      found.push(say('{name} needs {least} lines at least', { name, least: subform.least ?? 'no' }));
    if (old.most !== subform.most)
      found.push(
        say('{name} holds {most} lines', {
          name,
          most: subform.most === null ? say('any number of') : say('at most {most}', { most: subform.most }),
        }),
      );
    if (!same(old.shownWhen, subform.shownWhen)) found.push(whenWords(name, 'shown', subform.shownWhen, names));
    return [
      ...found,
      ...differences({ ...lineForm(old, tables), label: now.label }, now, tables).map((one) => `${name}: ${one.words}`),
    ].map((words) => ({ path: subform.id, words }));
  });
}

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
      found.push({ path: one.field, words: say('{one} was taken off', { one: labelOf(one) }) });
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
      words: say('{one} moved to {label}', {
        one: labelOf(one),
        label: home(after, one.field)?.label
          ? say('the section {label}', { label: home(after, one.field)?.label ?? '' })
          : say('another section'),
      }),
    })),
    ...(same(order, stayed) ? [] : [{ path: '', words: say('The order of the fields changed') }]),
  ];
}

function ofRules(before: DefinedForm, after: DefinedForm, tables: Tables): Difference[] {
  const names = namesOf({ tables, table: after.table, subforms: subformsOf(after) });
  return [
    ...after.rules.flatMap((rule): Difference[] => {
      const old = before.rules.find((one) => one.id === rule.id);
      if (!old) return [{ path: rule.at, words: say('New rule: {rule}', { rule: ruleWords(rule, names) }) }];
      if (same(old, rule)) return [];
      const words = ruleWords(rule, names);
      return [
        words === ruleWords(old, names)
          ? { path: rule.at, words: say('The examples of the rule “{message}” changed', { message: rule.message }) }
          : { path: rule.at, words: say('Changed rule: {words}', { words }) },
      ];
    }),
    ...before.rules
      .filter((rule) => !after.rules.some((one) => one.id === rule.id))
      .map((rule) => ({ path: rule.at, words: say('Rule removed: “{message}”', { message: rule.message }) })),
  ];
}
