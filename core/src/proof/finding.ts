import type { DefinedForm, PreparedForm } from '../forms/index.ts';
import type { TableDefinition, Tables } from '../tables/index.ts';

/** `must` keeps a form from being published; `look` is worth a look. */
export type Weight = 'must' | 'look';

export interface Finding {
  /** Which check found it. */
  readonly rule: string;
  readonly weight: Weight;
  /** Where it is: a field of the form, `sections`, `page`, `#` and an item of a section; after a subform and `/`, in its lines. */
  readonly path: string;
  readonly message: string;
  /** Why it matters. */
  readonly why: string;
  /** What a builder can confirm instead of changing the form: the key that is kept with the public page. */
  readonly confirm?: string;
}

/** What a check reads. The form is prepared even where something of it is not there any more. */
export interface Examined {
  readonly definition: DefinedForm;
  readonly tables: Tables;
  readonly table: TableDefinition;
  readonly form: PreparedForm;
  /** The civil moment that an example means by today. */
  readonly now: string;
}

/** One check of a form’s definition: gives what it finds. */
export type Check = (examined: Examined) => readonly Finding[];

/** A field’s label on the form, or its column’s name when it has gone. */
export const called = ({ form, table }: Examined, id: string): string =>
  form.fields.get(id)?.label ??
  form.subforms.get(id)?.label ??
  table.fields.find((field) => field.id === id)?.label ??
  id;
