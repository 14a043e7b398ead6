import { type Condition, operandsOf, pathsOf } from '../conditions/index.ts';
import { type Expression, type LinesOf, readExpression } from '../expressions/index.ts';
import { narrowingColumns } from '../narrowing/index.ts';
import type { Rule } from '../rules/index.ts';
import {
  cardPaths,
  type FieldDefinition,
  type FieldId,
  findField,
  linkedTable,
  type TableDefinition,
  type Tables,
} from '../tables/index.ts';
import type { Edge } from '../wiring/index.ts';
import type { DefinedForm } from './form.ts';
import { type Enclosure, inEnclosing, type PreparedField, type PreparedForm, type PreparedRule } from './prepared.ts';

export const rootOf = (path: string): string => path.split('.')[0] ?? path;

/** What marks, in the wiring of a line’s form, a field of the record that encloses it. */
export const ENCLOSING = '^';

/**
 * What a path of a form hangs on: a field of the form, a subform, or, in a line, a field of the enclosing record, which
 * the line also reaches through its own link: `stay.arrival` is `^arrival`.
 */
export function moverOf(path: string, enclosure: Enclosure | undefined): string {
  const [root = '', next] = path.split('.');
  return enclosure && root === enclosure.link && next !== undefined ? ENCLOSING + inEnclosing(enclosure, next) : root;
}

/** The movers of a condition: its own fields, and those of the enclosing record. */
const moversOf = (condition: Condition, enclosure: Enclosure | undefined): string[] =>
  operandsOf(condition).flatMap((operand) =>
    operand.kind === 'form'
      ? [moverOf(operand.path, enclosure)]
      : operand.kind === 'enclosing'
        ? [ENCLOSING + rootOf(operand.path)]
        : [],
  );

/** Reads an expression over a table’s fields; one that cannot be read gives nothing, and the proof names it. */
export function expressionOver(
  source: string,
  table: TableDefinition,
  tables: Tables,
  lines: readonly LinesOf[] = [],
): Expression | null {
  const read = readExpression(source, table.fields, tables, lines);
  return 'expression' in read ? read.expression : null;
}

export function prepareRule(
  rule: Rule,
  table: TableDefinition,
  tables: Tables,
  ofTable: boolean,
  lines: readonly LinesOf[] = [],
): PreparedRule {
  const expression = rule.must.kind === 'expression' ? expressionOver(rule.must.source, table, tables, lines) : null;
  const must = rule.must.kind === 'expression' ? (expression?.reads ?? []) : pathsOf(rule.must, 'form');
  const reads = [...new Set([...(rule.when ? pathsOf(rule.when, 'form') : []), ...must])];
  const parts = [rule.when, rule.must.kind === 'expression' ? null : rule.must].flatMap((one) => one ?? []);
  const enclosing = [...new Set(parts.flatMap((one) => pathsOf(one, 'enclosing')))];
  return { ...rule, reads, enclosing, expression, ofTable };
}

/**
 * The fields that table rules and calculations read or give, those with defaults, and those on either side of a table’s
 * own narrowing: carried where not placed.
 */
export function carriedFields(
  table: TableDefinition,
  tables: Tables,
  placed: ReadonlySet<string>,
  also: Iterable<string> = [],
): FieldDefinition[] {
  const wanted = new Set<string>(also);
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
  for (const field of table.fields) {
    const parents = field.narrowing === null ? [] : pathsOf(field.narrowing, 'form').map(rootOf);
    if (!placed.has(field.id) && !parents.some((parent) => placed.has(parent))) continue;
    for (const id of parents.length > 0 ? [field.id, ...parents] : []) wanted.add(id);
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

/** Whether the rules, conditions or calculations of a form read what a link points at, or narrow the link itself. */
export function readsLink({ fields, rules }: PreparedForm, link: string): boolean {
  const reads = (path: string): boolean => rootOf(path) === link;
  return (
    (fields.get(link)?.narrowing.where.of.length ?? 0) > 0 ||
    rules.some((rule) => rule.reads.some(reads)) ||
    [...fields.values()].some((field) => pathsOfField(field).some(reads))
  );
}

/** For each link field, the columns of its record that the form reads, in conditions, fills, rules and cards. */
export function pathsRead(
  definition: DefinedForm,
  tables: Tables,
  fields: readonly Reading[],
  rules: readonly PreparedRule[],
  byLines: readonly string[],
): Map<string, Set<string>> {
  const read = new Map<string, Set<string>>(fields.map((one) => [one.id, new Set()]));
  const note = (path: string): void => {
    const [field = '', ...rest] = path.split('.');
    if (rest.length > 0) read.get(field)?.add(rest.join('.'));
  };
  const narrowingOf = (id: string): Condition | null =>
    fields.find((one) => one.id === id && one.field.narrowing !== null)?.narrowing.where ?? null;
  for (const one of fields) {
    if (one.source && one.source.column === undefined)
      for (const path of narrowingColumns(one.narrowing.where, one.id, narrowingOf)) read.get(one.id)?.add(path);
    for (const path of pathsOfField(one)) note(path);
    if (one.fill && one.fill.key === null)
      for (const pair of one.fill.pairs) if (pair.from !== 'self') read.get(one.id)?.add(pair.from);
  }
  for (const rule of rules) for (const path of rule.reads) note(path);
  for (const path of byLines) note(path);
  for (const item of definition.sections.flatMap((section) => section.items))
    if (item.kind === 'card') {
      const link = fields.find((one) => one.id === item.of);
      const target = tables.get(linkedTable(findField(tables.get(definition.table), link?.id ?? '')) ?? '');
      for (const path of target ? cardPaths(tables, target) : []) read.get(item.of)?.add(path);
    }
  return read;
}

/** A subform as the wiring knows it: what it hangs on in the form that it stands in. */
interface WiredLines {
  readonly id: string;
  readonly shownWhen: Condition | null;
  /** What of the form its lines read, by what it does to them. */
  readonly reads: readonly { readonly kind: Edge['kind']; readonly field: FieldId }[];
}

/** The wires between fields, from the enclosing record into a line, and between a form and its subforms. */
export function edgesOf(
  fields: readonly Reading[],
  rules: readonly PreparedRule[],
  enclosure: Enclosure | undefined,
  subforms: readonly WiredLines[],
): Edge[] {
  const edges = new Map<string, Edge>();
  const known = new Set([...fields.map((one) => one.id), ...subforms.map((one) => one.id)]);
  const add = (kind: Edge['kind'], from: string, to: string): void => {
    if ((known.has(from) || from.startsWith(ENCLOSING)) && known.has(to))
      edges.set(`${kind} ${from} ${to}`, { kind, from, to });
  };
  const setReader = (kind: Edge['kind'], condition: Condition | null, to: string): void => {
    for (const from of condition ? moversOf(condition, enclosure) : []) add(kind, from, to);
  };
  for (const one of fields) {
    setReader('narrows', one.narrowing.where, one.id);
    for (const pair of one.fill?.pairs ?? []) add('fills', one.id, pair.to);
    setReader('shows', one.shownWhen, one.id);
    setReader('checks', one.requiredWhen, one.id);
    for (const path of one.calculation?.reads ?? one.beginsWith?.reads ?? [])
      add('calculates', moverOf(path, enclosure), one.id);
  }
  for (const rule of rules)
    for (const from of moversOfRule(rule, enclosure)) if (from !== rule.at) add('checks', from, rule.at);
  for (const subform of subforms) {
    setReader('shows', subform.shownWhen, subform.id);
    for (const { kind, field } of subform.reads) add(kind, field, subform.id);
  }
  return [...edges.values()];
}

/** What a rule is decided by. */
export const moversOfRule = (rule: PreparedRule, enclosure: Enclosure | undefined): string[] => [
  ...rule.reads.map((path) => moverOf(path, enclosure)),
  ...rule.enclosing.map((path) => ENCLOSING + rootOf(path)),
];
