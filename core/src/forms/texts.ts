import { homeOf, tableOfPart } from '../destinations/index.ts';
import type { PublicPage } from '../pages/index.ts';
import type { Rule } from '../rules/index.ts';
import { type FieldDefinition, type TableDefinition, type TableId, type Tables, targetTable } from '../tables/index.ts';
import { type DefinedForm, type Item, isField, isSubform, type PlacedField, type Section } from './form.ts';

/** Gives a text in place of another one. */
type TextOf = (text: string) => string;

/** A form with the tables that its texts come from. */
interface FormTexts {
  readonly definition: DefinedForm;
  readonly tables: Tables;
}

/** A text or none, of which nothing stays nothing. */
const maybe = <T extends string | null | undefined>(text: T, as: TextOf): T => (text ? (as(text) as T) : text);

/** The tables that a form writes to. */
const writtenTables = (definition: DefinedForm): ReadonlySet<TableId> =>
  new Set([
    definition.table,
    ...(definition.destinations?.of.map((one) => one.table) ?? []),
    ...definition.sections.flatMap((section) => section.items.filter(isSubform).map((one) => one.table)),
  ]);

/** The tables whose labels a form shows: those that it writes to, and those that their fields link to. */
function tablesShown({ definition, tables }: FormTexts): ReadonlySet<TableId> {
  const written = [...writtenTables(definition)];
  const linked = written.flatMap((id) => tables.get(id)?.fields.flatMap((field) => targetTable(field) ?? []) ?? []);
  return new Set([...written, ...linked]);
}

/**
 * A form and its tables with every text that whoever fills it reads put through `as`, in reading order: labels, help,
 * headings, messages of rules, and the words of its page. Words of choices are values, and stay.
 */
export function withTexts(form: FormTexts, as: TextOf): FormTexts {
  const { definition, tables } = form;
  const label = as(definition.label);
  const page = definition.page && pageWithTexts(definition.page, as);
  const shown = tablesShown(form);
  const sections = definition.sections.map((section) => sectionWithTexts(section, as));
  const rules = definition.rules.map((rule) => ruleWithTexts(rule, as));
  return {
    definition: { ...definition, label, sections, rules, page },
    tables: new Map([...tables].map(([id, table]) => [id, shown.has(id) ? tableWithTexts(table, as) : table])),
  };
}

const sectionWithTexts = (section: Section, as: TextOf): Section => ({
  ...section,
  label: maybe(section.label, as),
  items: section.items.map((item) => itemWithTexts(item, as)),
});

function itemWithTexts(item: Item, as: TextOf): Item {
  if (isField(item)) return fieldWithTexts(item, as);
  if (isSubform(item))
    return {
      ...item,
      label: maybe(item.label, as),
      fields: item.fields.map((field) => fieldWithTexts(field, as)),
      rules: item.rules.map((rule) => ruleWithTexts(rule, as)),
    };
  return item.kind === 'card' ? item : { ...item, text: as(item.text) };
}

const fieldWithTexts = (field: PlacedField, as: TextOf): PlacedField => ({
  ...field,
  label: maybe(field.label, as),
  help: maybe(field.help, as),
});

const ruleWithTexts = (rule: Rule, as: TextOf): Rule => ({ ...rule, message: as(rule.message) });

const tableWithTexts = (table: TableDefinition, as: TextOf): TableDefinition => ({
  ...table,
  label: as(table.label),
  fields: table.fields.map((field) => columnWithTexts(field, as)),
  rules: table.rules.map((rule) => ruleWithTexts(rule, as)),
  constraints: table.constraints.map((rule) => ({ ...rule, message: as(rule.message) })),
});

function columnWithTexts(field: FieldDefinition, as: TextOf): FieldDefinition {
  const { patternMessage } = field.settings;
  return {
    ...field,
    label: as(field.label),
    help: maybe(field.help, as),
    ...(typeof patternMessage === 'string'
      ? { settings: { ...field.settings, patternMessage: as(patternMessage) } }
      : {}),
  };
}

function pageWithTexts(page: PublicPage, as: TextOf): PublicPage {
  const { words, confirmation } = page;
  return {
    ...page,
    intro: maybe(page.intro, as),
    thanks: maybe(page.thanks, as),
    consent: maybe(page.consent, as),
    ...(words
      ? {
          words: {
            ...words,
            before: maybe(words.before, as),
            closed: maybe(words.closed, as),
            full: maybe(words.full, as),
            send: maybe(words.send, as),
          },
        }
      : {}),
    ...(confirmation
      ? { confirmation: { ...confirmation, subject: as(confirmation.subject), text: as(confirmation.text) } }
      : {}),
  };
}

/** The fields that stand on a form and in its lines, whatever table they are of. */
function fieldsShown({ definition, tables }: FormTexts): { placed: PlacedField; field: FieldDefinition }[] {
  const of = (table: TableId, placed: PlacedField, id: string) => {
    const field = tables.get(table)?.fields.find((one) => one.id === id);
    return field ? [{ placed, field }] : [];
  };
  return definition.sections.flatMap(({ items }) =>
    items.flatMap((item) => {
      if (isSubform(item)) return item.fields.flatMap((one) => of(item.table, one, one.field));
      if (!isField(item)) return [];
      const { part, field } = homeOf(definition, item.field);
      return of(tableOfPart(definition, part), item, field);
    }),
  );
}

/** The words of choices that a page has in a language, by the word that is kept. A word can be a label as well; help, messages and the like are none. */
export function choiceWords(form: FormTexts, language: string): Record<string, string> {
  const texts = form.definition.page?.translations?.[language] ?? {};
  const others = new Set(
    textsOf(form).flatMap(({ text, kind }) => (kind === 'choice' || kind === 'label' ? [] : [text])),
  );
  return Object.fromEntries(Object.entries(texts).filter(([text, said]) => said !== '' && !others.has(text)));
}

/** What a text says on a page. */
export type TextKind = 'page' | 'label' | 'help' | 'rule' | 'choice' | 'mail';

/** A text that a builder may give in another language, with what it says first on the page. */
export interface PageText {
  readonly text: string;
  readonly kind: TextKind;
}

/** The texts of a form that whoever fills its page reads, each once, in reading order. Words of option lists are records: they are not among them. */
export function textsOf(form: FormTexts): PageText[] {
  const { definition, tables } = form;
  const { page, sections, rules } = definition;
  const found = new Map<string, TextKind>();
  const add = (kind: TextKind, ...texts: readonly (string | null | undefined)[]): void => {
    for (const text of texts) if (text && !found.has(text)) found.set(text, kind);
  };
  add('page', definition.label, page?.intro);
  for (const section of sections) {
    add('label', section.label);
    for (const item of section.items) {
      if (isSubform(item)) add('label', item.label ?? tables.get(item.table)?.label);
      else if (!isField(item) && item.kind !== 'card') add('label', item.text);
    }
  }
  for (const { placed, field } of fieldsShown(form)) {
    add('label', placed.label ?? field.label);
    add('help', placed.help ?? field.help);
    if (typeof field.settings.patternMessage === 'string') add('rule', field.settings.patternMessage);
    add('choice', ...(Array.isArray(field.settings.choices) ? (field.settings.choices as string[]) : []));
  }
  const ofTables = [...writtenTables(definition)].flatMap((id) => {
    const table = tables.get(id);
    return [...(table?.rules ?? []), ...(table?.constraints ?? [])];
  });
  const ofLines = sections.flatMap(({ items }) => items.filter(isSubform).flatMap((one) => one.rules));
  add('rule', ...[...rules, ...ofLines, ...ofTables].map((rule) => rule.message));
  add(
    'page',
    page?.words?.send,
    page?.consent,
    page?.thanks,
    page?.words?.before,
    page?.words?.closed,
    page?.words?.full,
  );
  add('mail', page?.confirmation?.subject, page?.confirmation?.text);
  return [...found].map(([text, kind]) => ({ text, kind }));
}
