import type { Condition, Operand } from '../conditions/index.ts';
import type { Value, Values } from '../fields/index.ts';
import type { PreparedForm } from '../forms/index.ts';
import { resolveNarrowing, type Scope } from '../narrowing/index.ts';
import { fieldAtPath, linkedTable } from '../tables/index.ts';
import type { Linked } from './state.ts';

/** The part of a running form that conditions read; the server has it without the rest. */
export interface Readable {
  readonly form: PreparedForm;
  readonly account: string | null;
  readonly values: Values;
  readonly linked: Readonly<Record<string, Linked>>;
}

/** The value at a path of the form: a field, or a column of the record it links to; null when blank or unknown. */
export function readForm(entry: Readable, path: string): Value {
  const dot = path.indexOf('.');
  if (dot < 0) return entry.values[path] ?? null;
  const field = path.slice(0, dot);
  if ((entry.values[field] ?? null) === null) return null;
  return entry.linked[field]?.facts[path.slice(dot + 1)] ?? null;
}

/** Reads the operands of a rule: fields of the form, constants and the account. */
export function readOperand(entry: Readable, operand: Operand): Value {
  switch (operand.kind) {
    case 'form':
      return readForm(entry, operand.path);
    case 'constant':
      return operand.value;
    case 'account':
      return entry.account;
    case 'column':
      throw new Error('A rule reads the form, not the choices');
  }
}

/** The conditions on the choices of a dropdown, with the form's present values put in. */
export function narrowedBy(entry: Readable, field: string): Condition {
  const { form } = entry;
  const dropdown = form.fields.get(field);
  if (!dropdown?.source) throw new Error(`${field} is not a dropdown of this form`);
  const scope: Scope = {
    read: (path) => readForm(entry, path),
    account: entry.account,
    narrowingOf: (id) => {
      const other = form.fields.get(id);
      return other?.source && other.source.column === undefined
        ? { table: other.source.table, where: other.narrowing.where }
        : undefined;
    },
    targetOf: (table, path) => linkedTable(fieldAtPath(form.tables, table, path)),
  };
  return resolveNarrowing(dropdown.source.table, dropdown.narrowing.where, scope);
}
