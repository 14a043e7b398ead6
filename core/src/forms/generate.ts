import { type FieldDefinition, isGiven, nameFrom, type TableDefinition, type Tables } from '../tables/index.ts';
import type { DefinedForm, Item, PlacedField, Subform } from './form.ts';
import { linesInto } from './subform.ts';

/** A field as a form takes it over from its table. */
export const placeField = (field: FieldDefinition): PlacedField => ({
  kind: 'field',
  field: field.id,
  label: null,
  help: null,
  required: field.required,
  requiredWhen: null,
  shownWhen: null,
  keepHidden: false,
  readOnly: isGiven(field),
  initial: null,
  calculation: null,
  narrowing: null,
  fill: null,
});

/** What a builder decides when a form is generated. */
export type Generated = Pick<DefinedForm, 'may' | 'opensOn'> & {
  /** All fields of the table, or none yet. */
  readonly fields?: 'all' | 'none';
  /** Tables that link here, as `table.link`, whose records are entered as lines. */
  readonly subforms?: readonly string[];
};

/** A subform of the records of `table` whose field `link` points at the form, with its fields but that link. */
export function placeLines(table: TableDefinition, link: string, taken: ReadonlySet<string>): Subform {
  return {
    kind: 'subform',
    id: nameFrom(table.label, taken, 'lines'),
    table: table.id,
    link,
    label: null,
    as: 'rows',
    least: null,
    most: null,
    shownWhen: null,
    fields: table.fields.filter((field) => field.id !== link).map(placeField),
    rules: [],
  };
}

/**
 * The form that a table gives in one step: its fields in their order, in one section, with the labels, inputs and
 * checks of the table, and the chosen tables that link here as subforms. Audit fields are no fields and so stay out;
 * what the system gives is shown read-only.
 */
export function generateForm(
  table: TableDefinition,
  label = table.label,
  { fields, subforms = [], ...chosen }: Generated = {
    may: { add: true, change: true, archive: true },
    opensOn: 'blank',
  },
  tables: Tables = new Map(),
): DefinedForm {
  const items: Item[] = fields === 'none' ? [] : table.fields.map(placeField);
  const taken = new Set(table.fields.map((field) => field.id));
  const lines = linesInto(tables, table.id)
    .filter((one) => subforms.includes(`${one.table.id}.${one.link}`))
    .map((one) => {
      const placed = placeLines(one.table, one.link, taken);
      taken.add(placed.id);
      return placed;
    });
  return {
    label,
    table: table.id,
    ...chosen,
    view: null,
    showStamp: true,
    sections: [{ id: 'main', label: '', columns: 3, shownWhen: null, items: [...items, ...lines] }],
    rules: [],
    page: null,
  };
}
