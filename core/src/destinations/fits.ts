import { linksOne } from '../fields/index.ts';
import { type FieldDefinition, isGiven, type Tables, typeOf } from '../tables/index.ts';
import { OWN, tableOfPart, type Writing } from './destination.ts';

/** Whether a value of one field can be kept in another: both of one family, or links to the same table. */
export const fits = (from: FieldDefinition, to: FieldDefinition): boolean =>
  linksOne(from) || linksOne(to)
    ? linksOne(from) && linksOne(to) && from.settings.table === to.settings.table
    : typeOf(from).family === typeOf(to).family;

/** The fields of the records of a form that a value of one of its fields could go to as well. */
export const fittingFields = (
  form: Writing,
  from: FieldDefinition,
  tables: Tables,
): { readonly of: string; readonly field: FieldDefinition }[] =>
  [OWN, ...(form.destinations?.of.map((one) => one.id) ?? [])].flatMap((of) =>
    (tables.get(tableOfPart(form, of))?.fields ?? [])
      .filter((field) => !isGiven(field) && fits(from, field))
      .map((field) => ({ of, field })),
  );
