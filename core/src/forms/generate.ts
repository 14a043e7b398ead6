import { type FieldDefinition, type TableDefinition, typeOf } from '../tables/index.ts';
import type { FormDefinition, FormField } from './form.ts';

/** A field as a form takes it over from its table. */
export const placeField = (field: FieldDefinition): FormField => ({
  field: field.id,
  label: null,
  help: null,
  required: field.required,
  readOnly: false,
  initial: null,
  narrowing: null,
  fill: null,
});

/**
 * The form that a table gives in one step: its fields in their order, in one section, with the labels, inputs and
 * checks of the table. Audit fields are no fields and so stay out; a sequence number is shown read-only.
 */
export function generateForm(table: TableDefinition, label = table.label): FormDefinition {
  return {
    label,
    table: table.id,
    may: { add: true, change: true, archive: true },
    showStamp: true,
    sections: [
      {
        id: 'main',
        label: '',
        columns: 3,
        fields: table.fields.map((field) => ({ ...placeField(field), readOnly: !typeOf(field).editable })),
      },
    ],
    rules: [],
    page: null,
  };
}
