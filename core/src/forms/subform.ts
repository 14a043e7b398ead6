import { OWN, tableOfPart } from '../destinations/index.ts';
import { sayLater } from '../languages/index.ts';
import { findField, linkedTable, type TableDefinition, type TableId, type Tables } from '../tables/index.ts';
import { type DefinedForm, isField, type Subform } from './form.ts';

/** The aggregates of a column of lines that a form can read in sentences: `services_used.amount.sum`. */
export const AGGREGATES = ['sum', 'least', 'most', 'average'] as const;
export type Aggregate = (typeof AGGREGATES)[number];

/** In the words of a sentence. */
export const AGGREGATE_WORDS: Readonly<Record<Aggregate, string>> = {
  sum: sayLater('the sum of'),
  least: sayLater('the least'),
  most: sayLater('the most'),
  average: sayLater('the average of'),
};

/**
 * A path to what a form knows of its lines: the name of a subform alone is how many there are; with a column, the list
 * of its values; with a column and an aggregate, that of its values. Undefined for a path to anything else.
 */
export function readLinePath(
  subforms: { has(id: string): boolean },
  path: string,
): { readonly id: string; readonly column?: string; readonly aggregate?: Aggregate } | undefined {
  const [id = '', column, aggregate] = path.split('.');
  if (!subforms.has(id)) return undefined;
  return { id, column, aggregate: AGGREGATES.find((one) => one === aggregate) };
}

/** An aggregate of a list of numbers; null where an empty list has none. */
export function aggregateOf(numbers: readonly number[], aggregate: Aggregate): number | null {
  if (aggregate === 'sum') return numbers.reduce((sum, one) => sum + one, 0);
  if (numbers.length === 0) return null;
  if (aggregate === 'least') return numbers.reduce((a, b) => Math.min(a, b));
  if (aggregate === 'most') return numbers.reduce((a, b) => Math.max(a, b));
  return numbers.reduce((sum, one) => sum + one, 0) / numbers.length;
}

/** The form that one line of a subform is: the same definition, over the table of the lines. */
export function lineForm(subform: Subform, tables: Tables): DefinedForm {
  return {
    label: subform.label ?? tables.get(subform.table)?.label ?? subform.id,
    table: subform.table,
    may: subform.may ?? { add: true, change: true, archive: true },
    opensOn: 'blank',
    view: null,
    showStamp: false,
    sections: [{ id: 'line', label: '', columns: 4, shownWhen: null, items: subform.fields }],
    rules: subform.rules,
    page: null,
  };
}

/** A subform with its fields and rules as a changed form of its lines has them. */
export const withLineForm = (subform: Subform, form: DefinedForm): Subform => ({
  ...subform,
  fields: form.sections.flatMap((section) => section.items.filter(isField)),
  rules: form.rules,
});

/** The links by which records of other tables belong to one of `table`: what a form over it can enter as lines. */
export const linesInto = (tables: Tables, table: TableId): { table: TableDefinition; link: string; label: string }[] =>
  [...tables.values()].flatMap((other) =>
    other.kind === 'list' || other.archived
      ? []
      : other.fields
          .filter((field) => linkedTable(field) === table)
          .map((field) => ({ table: other, link: field.id, label: field.label })),
  );

/** Whether a subform’s table and link are there, and the link points at the form’s table. */
export const isWhole = (subform: Subform, table: TableId, tables: Tables): boolean =>
  linkedTable(findField(tables.get(subform.table), subform.link)) === table;

/** The table whose record the lines of a subform belong to: the form’s own, or that of one of its destinations. */
export const linesTable = (form: DefinedForm, { of }: Subform): TableId => tableOfPart(form, of ?? OWN) as TableId;
