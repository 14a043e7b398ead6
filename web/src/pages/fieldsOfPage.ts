import { tablesOfForm } from '@fiche/core/destinations';
import { type DefinedForm, formFields } from '@fiche/core/forms';
import type { FieldDefinition, Tables } from '@fiche/core/tables';

/** A field that stands on a form, as its page shows it. */
export interface FieldOfPage {
  readonly id: string;
  readonly label: string;
  readonly field: FieldDefinition;
}

/** The fields of a form in reading order, with the labels that it gives them; those of destinations too. */
export function fieldsOfPage(definition: DefinedForm, tables: Tables): FieldOfPage[] {
  const table = tablesOfForm(definition, tables).get(definition.table);
  return formFields(definition).flatMap((placed) => {
    const field = table?.fields.find((one) => one.id === placed.field);
    return field && !placed.readOnly ? [{ id: placed.field, label: placed.label ?? field.label, field }] : [];
  });
}
