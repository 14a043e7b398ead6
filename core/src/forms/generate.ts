import { type FieldDefinition, isGiven, type TableDefinition } from '../tables/index.ts';
import type { FormDefinition, FormField } from './form.ts';

/** A field as a form takes it over from its table. */
export const placeField = (field: FieldDefinition): FormField => ({
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
export type Generated = Pick<FormDefinition, 'may' | 'opensOn'> & {
  /** All fields of the table, or none yet. */
  readonly fields?: 'all' | 'none';
};

/**
 * The form that a table gives in one step: its fields in their order, in one section, with the labels, inputs and
 * checks of the table. Audit fields are no fields and so stay out; what the system gives is shown read-only.
 */
export function generateForm(
  table: TableDefinition,
  label = table.label,
  { fields, ...chosen }: Generated = { may: { add: true, change: true, archive: true }, opensOn: 'blank' },
): FormDefinition {
  const items = fields === 'none' ? [] : table.fields.map(placeField);
  return {
    label,
    table: table.id,
    ...chosen,
    showStamp: true,
    sections: [{ id: 'main', label: '', columns: 3, shownWhen: null, items }],
    rules: [],
    page: null,
  };
}
