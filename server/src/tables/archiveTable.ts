import { say } from '@fiche/core/languages';
import { type TableDefinition, type Tables, tablesNamed } from '@fiche/core/tables';
import type { StoredForm } from '../definitions/index.ts';
import { Refusal } from '../http/index.ts';

/** 409 while a form in use, or a field of a table in use, needs the table: what it holds could no longer be changed there. */
export function checkUnused(table: TableDefinition, tables: Tables, forms: Iterable<StoredForm>): void {
  const uses = [
    ...[...forms]
      .filter((form) => !form.archived)
      .filter((form) => tablesNamed([form.draft, form.live]).includes(table.id))
      .map((form) => say('the form {label}', { label: form.draft.label })),
    ...[...tables.values()]
      .filter((one) => one.id !== table.id && !one.archived)
      .flatMap((one) =>
        one.fields
          .filter((field) => tablesNamed(field.settings).includes(table.id))
          .map((field) => `${field.label} of ${one.label}`),
      ),
    ...[...tables.values()].flatMap((one) =>
      (one.ripples ?? [])
        .filter((ripple) => one.id !== table.id && tablesNamed(ripple.effects).includes(table.id))
        .map((ripple) => say('the ripple {ripple} of {table}', { ripple: ripple.label, table: one.label })),
    ),
  ];
  if (uses.length > 0)
    throw new Refusal(
      409,
      say('{label} is used by {list}{count}. Archive the forms and the fields first.', {
        label: table.label,
        list: uses.slice(0, 5).join(', '),
        count: uses.length > 5 ? ` and ${uses.length - 5} more` : '',
      }),
    );
}
