import { tablesOfForm } from '@fiche/core/destinations';
import { type DefinedForm, type Item, type PlacedField, placeField, type Subform } from '@fiche/core/forms';
import { findField, type Tables } from '@fiche/core/tables';

export interface PlannedForm {
  readonly table: string;
  readonly label: string;
  /** `views` has the numbers of the shared views by label. */
  build(tables: Tables, views: ReadonlyMap<string, number>): DefinedForm;
}

/** What a form places: a field with its own settings, a reference card, a note, or lines. */
export type Placed =
  | [field: string, own?: Partial<PlacedField>]
  | { readonly card: string }
  | { readonly note: string }
  | Subform;

/** A form over a table by the names of its fields, section by section. */
export function buildForm(
  tables: Tables,
  table: string,
  label: string,
  sections: [label: string, columns: number, fields: Placed[]][],
  destinations?: DefinedForm['destinations'],
): DefinedForm {
  return {
    label,
    table,
    ...(destinations ? { destinations } : {}),
    may: { add: true, change: true, archive: true },
    opensOn: 'blank',
    view: null,
    showStamp: true,
    rules: [],
    page: null,
    sections: sections.map(([title, columns, fields], n) => ({
      id: `s${n + 1}`,
      label: title,
      columns,
      shownWhen: null,
      items: fields.map((placed, at): Item => {
        if (!Array.isArray(placed))
          return 'kind' in placed
            ? placed
            : 'card' in placed
              ? { kind: 'card', id: `card${at}`, of: placed.card }
              : { kind: 'note', id: `note${at}`, text: placed.note };
        const [id, own] = placed;
        const field = findField(tablesOfForm({ table, destinations }, tables).get(table), id);
        if (!field) throw new Error(`${table} has no field ${id}`);
        return { ...placeField(field), ...own };
      }),
    })),
  };
}
