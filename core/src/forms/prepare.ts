import { type Condition, type Operand, operandsOf, pathsOf } from '../conditions/index.ts';
import type { Family, Problem } from '../fields/index.ts';
import { type Fill, misfit } from '../fills/index.ts';
import { type Narrowing, NOT_NARROWED, type Source, sourceOf, withAncestors } from '../narrowing/index.ts';
import type { Rule } from '../rules/index.ts';
import {
  type FieldDefinition,
  fieldAtPath,
  findField,
  type Initial,
  type TableDefinition,
  type Tables,
  typeOf,
} from '../tables/index.ts';
import { arrange, type Edge, type Wiring } from '../wiring/index.ts';
import { type FormDefinition, formFields } from './form.ts';

/** A field of a form with everything settled that the table, the option list and the form say about it. */
export interface PreparedField {
  readonly id: string;
  readonly label: string;
  readonly help: string;
  readonly field: FieldDefinition;
  readonly required: boolean;
  readonly readOnly: boolean;
  readonly initial: Initial | null;
  readonly source: Source | undefined;
  readonly narrowing: Narrowing;
  readonly fill: Fill | null;
  /** Columns of the linked record that this form reads: for narrowing, fills and rules. */
  readonly factPaths: readonly string[];
}

/** A form ready to run: what both the browser and the server work with. */
export interface PreparedForm {
  readonly definition: FormDefinition;
  readonly table: TableDefinition;
  readonly tables: Tables;
  readonly fields: ReadonlyMap<string, PreparedField>;
  readonly rules: readonly Rule[];
  readonly wiring: Wiring;
}

/**
 * Settles a form over its tables. Throws for a table that is not there; a field that has gone from the table is left
 * out, and `definitionProblems` names it.
 */
export function prepareForm(definition: FormDefinition, tables: Tables): PreparedForm {
  const table = tables.get(definition.table);
  if (!table) throw new Error(`The form ${definition.label} is over a table that is not there: ${definition.table}`);
  const placed = formFields(definition).flatMap((one) => {
    const field = findField(table, one.field);
    return field ? [{ one, field }] : [];
  });
  const siblings = placed.map(({ field }) => field);
  const rules = [...table.rules, ...definition.rules];
  const unread = placed.map(({ one, field }) => {
    const source = sourceOf(field);
    const own = one.narrowing ?? NOT_NARROWED;
    const narrowing = source ? withAncestors(field, levelsOf(tables, source), siblings, own) : NOT_NARROWED;
    return {
      id: field.id,
      label: one.label ?? field.label,
      help: one.help ?? field.help,
      field,
      required: field.required || one.required,
      readOnly: one.readOnly || !typeOf(field).editable,
      initial: one.initial ?? field.initial,
      source,
      narrowing,
      fill: one.fill,
    };
  });
  const read = pathsRead(unread, rules);
  const fields = new Map(unread.map((one) => [one.id, { ...one, factPaths: [...(read.get(one.id) ?? [])].sort() }]));
  return { definition, table, tables, fields, rules, wiring: arrange([...fields.keys()], edgesOf(fields, rules)) };
}

const levelsOf = (tables: Tables, source: Source): string[] =>
  source.column === undefined ? [] : (tables.get(source.table)?.fields ?? []).map((field) => field.id);

type Unread = Omit<PreparedField, 'factPaths'>;

/** For each link field, the columns of its record that conditions, fills and rules of the form read. */
function pathsRead(fields: readonly Unread[], rules: readonly Rule[]): Map<string, Set<string>> {
  const read = new Map<string, Set<string>>(fields.map((one) => [one.id, new Set()]));
  const note = (path: string): void => {
    const [field = '', ...rest] = path.split('.');
    if (rest.length > 0) read.get(field)?.add(rest.join('.'));
  };
  for (const one of fields) {
    if (one.source && one.source.column === undefined)
      for (const path of pathsOf(one.narrowing.where, 'column')) read.get(one.id)?.add(path);
    for (const path of pathsOf(one.narrowing.where, 'form')) note(path);
    if (one.fill && one.fill.key === null)
      for (const pair of one.fill.pairs) if (pair.from !== 'self') read.get(one.id)?.add(pair.from);
  }
  for (const rule of rules) for (const path of pathsOf(rule.must, 'form')) note(path);
  return read;
}

function edgesOf(fields: ReadonlyMap<string, PreparedField>, rules: readonly Rule[]): Edge[] {
  const edges: Edge[] = [];
  for (const one of fields.values()) {
    for (const path of pathsOf(one.narrowing.where, 'form'))
      edges.push({ kind: 'narrows', from: path.split('.')[0] ?? path, to: one.id });
    for (const pair of one.fill?.pairs ?? []) edges.push({ kind: 'fills', from: one.id, to: pair.to });
  }
  for (const rule of rules)
    for (const operand of operandsOf(rule.must)) {
      const from = operand.kind === 'form' ? operand.path.split('.')[0] : undefined;
      if (from !== undefined && from !== rule.at) edges.push({ kind: 'checks', from, to: rule.at });
    }
  const known = edges.filter((edge) => fields.has(edge.from) && fields.has(edge.to));
  return known.filter(
    (edge, at) => known.findIndex((e) => e.kind === edge.kind && e.from === edge.from && e.to === edge.to) === at,
  );
}

/** The family of an operand's values; undefined for what is not there, which other findings name. */
function familyAt(tables: Tables, form: string, choices: string, operand: Operand): Family | undefined {
  switch (operand.kind) {
    case 'account':
      return 'text';
    case 'constant':
      return undefined;
    default: {
      const field = fieldAtPath(tables, operand.kind === 'form' ? form : choices, operand.path);
      return field && typeOf(field).family;
    }
  }
}

/** The comparisons of a condition whose two sides are of different families, in words. */
function mismatches(condition: Condition, familyOf: (operand: Operand) => Family | undefined): string[] {
  if (condition.kind === 'group') return condition.of.flatMap((one) => mismatches(one, familyOf));
  if (!('right' in condition)) return [];
  const [left, right] = [familyOf(condition.left), familyOf(condition.right)];
  return left && right && left !== right ? [`a ${left} is never a ${right}`] : [];
}

/** What is wrong with a form's definition against its tables; it can only be published when there is nothing. */
export function definitionProblems(definition: FormDefinition, tables: Tables): Problem[] {
  const table = tables.get(definition.table);
  if (!table) return [{ path: 'table', rule: 'table', message: 'The table of this form is not there any more.' }];
  const problems: Problem[] = [];
  const add = (path: string, rule: string, message: string) => problems.push({ path, rule, message });
  const seen = new Set<string>();
  for (const one of formFields(definition)) {
    const field = findField(table, one.field);
    if (!field) {
      add(one.field, 'field', `${one.field} is not a field of ${table.label} any more. Take it off the form.`);
      continue;
    }
    if (seen.has(one.field)) add(one.field, 'field', `${field.label} stands on the form twice. Take one off.`);
    seen.add(one.field);
  }
  if (seen.size === 0) add('sections', 'empty', 'The form has no fields yet. Add one.');
  for (const one of formFields(definition)) {
    const field = findField(table, one.field);
    if (!field) continue;
    const source = sourceOf(field);
    for (const path of source && one.narrowing ? pathsOf(one.narrowing.where, 'column') : [])
      if (source && !fieldAtPath(tables, source.table, path))
        add(one.field, 'narrowing', `${field.label} is narrowed by the column ${path}, which is not there any more.`);
    for (const path of one.narrowing ? pathsOf(one.narrowing.where, 'form') : [])
      if (!seen.has(path.split('.')[0] ?? ''))
        add(
          one.field,
          'narrowing',
          `${field.label} is narrowed by ${fieldAtPath(tables, table.id, path)?.label ?? path}, which is not on the form.`,
        );
    if (source && one.narrowing)
      for (const why of mismatches(one.narrowing.where, (operand) => familyAt(tables, table.id, source.table, operand)))
        add(one.field, 'narrowing', `${field.label} is narrowed by a comparison that cannot hold: ${why}.`);
    for (const pair of one.fill?.pairs ?? []) {
      const to = findField(table, pair.to);
      const why = to && one.fill ? misfit(tables, one.fill.table, pair.from, to) : `${pair.to} is not there any more.`;
      if (why) add(one.field, 'fill', why);
      else if (!seen.has(pair.to))
        add(one.field, 'fill', `${field.label} fills ${to?.label}, which is not on the form.`);
    }
  }
  for (const rule of [...definition.rules, ...table.rules])
    for (const path of [rule.at, ...pathsOf(rule.must, 'form')])
      if (!fieldAtPath(tables, table.id, path))
        add(rule.at, 'rule', `The rule “${rule.message}” reads ${path}, which is not there any more.`);
  if (problems.length === 0)
    for (const loop of prepareForm(definition, tables).wiring.loops)
      add(
        loop[0] ?? '',
        'loop',
        `These fields depend on one another in a circle: ${loop.map((id) => findField(table, id)?.label ?? id).join(' → ')}. Take one of the dependencies out.`,
      );
  const missing = table.fields.filter(
    (field) => field.required && !seen.has(field.id) && field.initial === null && typeOf(field).editable,
  );
  for (const field of definition.may.add ? missing : [])
    add(
      field.id,
      'required',
      `${field.label} is required in ${table.label} but is not on the form. Add it, or give it a default.`,
    );
  return problems;
}
