import { type Condition, operandsOf, pathsOf } from '../conditions/index.ts';
import { type Expression, readExpression } from '../expressions/index.ts';
import type { Rule } from '../rules/index.ts';
import {
  cardPaths,
  type FieldDefinition,
  findField,
  linkedTable,
  type TableDefinition,
  type Tables,
} from '../tables/index.ts';
import type { Edge } from '../wiring/index.ts';
import { type FormDefinition, isField } from './form.ts';
import type { PreparedField } from './prepare.ts';

/** A rule with its expression read, and the paths of the form that decide it. */
export interface PreparedRule extends Rule {
  readonly reads: readonly string[];
  readonly expression: Expression | null;
  /** True for a rule of the table, which guards every path into it. */
  readonly ofTable: boolean;
}

export const rootOf = (path: string): string => path.split('.')[0] ?? path;

/** Reads an expression over a table’s fields; one that cannot be read gives nothing, and the proof names it. */
export function expressionOver(source: string, table: TableDefinition, tables: Tables): Expression | null {
  const read = readExpression(source, table.fields, tables);
  return 'expression' in read ? read.expression : null;
}

export function prepareRule(rule: Rule, table: TableDefinition, tables: Tables, ofTable: boolean): PreparedRule {
  const expression = rule.must.kind === 'expression' ? expressionOver(rule.must.source, table, tables) : null;
  const must = rule.must.kind === 'expression' ? (expression?.reads ?? []) : pathsOf(rule.must, 'form');
  const reads = [...new Set([...(rule.when ? pathsOf(rule.when, 'form') : []), ...must])];
  return { ...rule, reads, expression, ofTable };
}

/** The fields that table rules and calculations read or give, and those with defaults: carried where not placed. */
export function carriedFields(table: TableDefinition, tables: Tables, placed: ReadonlySet<string>): FieldDefinition[] {
  const wanted = new Set<string>();
  for (const rule of table.rules) {
    const { reads } = prepareRule(rule, table, tables, true);
    for (const path of reads) wanted.add(rootOf(path));
  }
  for (const field of table.fields) {
    if (field.initial !== null || field.calculation !== null) wanted.add(field.id);
    const sources = [field.calculation, field.initial?.kind === 'calculation' ? field.initial.source : null];
    for (const source of sources)
      for (const path of source === null ? [] : (expressionOver(source, table, tables)?.reads ?? []))
        wanted.add(rootOf(path));
  }
  return table.fields.filter((field) => wanted.has(field.id) && !placed.has(field.id));
}

type Reading = Omit<PreparedField, 'factPaths'>;

/** The conditions and calculations of a field that read the form, as one list of paths. */
export const pathsOfField = (field: Reading): string[] => [
  ...pathsOf(field.narrowing.where, 'form'),
  ...[field.shownWhen, field.requiredWhen].flatMap((one) => (one ? pathsOf(one, 'form') : [])),
  ...(field.calculation?.reads ?? []),
  ...(field.beginsWith?.reads ?? []),
];

/** For each link field, the columns of its record that the form reads, in conditions, fills, rules and cards. */
export function pathsRead(
  definition: FormDefinition,
  tables: Tables,
  fields: readonly Reading[],
  rules: readonly PreparedRule[],
): Map<string, Set<string>> {
  const read = new Map<string, Set<string>>(fields.map((one) => [one.id, new Set()]));
  const note = (path: string): void => {
    const [field = '', ...rest] = path.split('.');
    if (rest.length > 0) read.get(field)?.add(rest.join('.'));
  };
  for (const one of fields) {
    if (one.source && one.source.column === undefined)
      for (const path of pathsOf(one.narrowing.where, 'column')) read.get(one.id)?.add(path);
    for (const path of pathsOfField(one)) note(path);
    if (one.fill && one.fill.key === null)
      for (const pair of one.fill.pairs) if (pair.from !== 'self') read.get(one.id)?.add(pair.from);
  }
  for (const rule of rules) for (const path of rule.reads) note(path);
  for (const item of definition.sections.flatMap((section) => section.items))
    if (!isField(item) && item.kind === 'card') {
      const link = fields.find((one) => one.id === item.of);
      const target = tables.get(linkedTable(findField(tables.get(definition.table), link?.id ?? '')) ?? '');
      for (const path of target ? cardPaths(tables, target) : []) read.get(item.of)?.add(path);
    }
  return read;
}

/** The wires between fields. */
export function edgesOf(fields: readonly Reading[], rules: readonly PreparedRule[]): Edge[] {
  const edges = new Map<string, Edge>();
  const known = new Set(fields.map((one) => one.id));
  const add = (kind: Edge['kind'], from: string, to: string): void => {
    if (known.has(from) && known.has(to)) edges.set(`${kind} ${from} ${to}`, { kind, from, to });
  };
  const readBy = (kind: Edge['kind'], condition: Condition | null, to: string): void => {
    for (const operand of condition ? operandsOf(condition) : [])
      if (operand.kind === 'form') add(kind, rootOf(operand.path), to);
  };
  for (const one of fields) {
    readBy('narrows', one.narrowing.where, one.id);
    for (const pair of one.fill?.pairs ?? []) add('fills', one.id, pair.to);
    readBy('shows', one.shownWhen, one.id);
    readBy('checks', one.requiredWhen, one.id);
    for (const path of one.calculation?.reads ?? one.beginsWith?.reads ?? []) add('calculates', rootOf(path), one.id);
  }
  for (const rule of rules)
    for (const path of rule.reads) if (rootOf(path) !== rule.at) add('checks', rootOf(path), rule.at);
  return [...edges.values()];
}
