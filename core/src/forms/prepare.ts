import { all, type Condition } from '../conditions/index.ts';
import type { Expression } from '../expressions/index.ts';
import type { Fill } from '../fills/index.ts';
import { type Narrowing, NOT_NARROWED, type Source, sourceOf, withAncestors } from '../narrowing/index.ts';
import {
  type FieldDefinition,
  findField,
  type Initial,
  isGiven,
  type TableDefinition,
  type Tables,
} from '../tables/index.ts';
import { arrange, type Wiring } from '../wiring/index.ts';
import {
  carriedFields,
  edgesOf,
  expressionOver,
  type PreparedRule,
  pathsRead,
  prepareRule,
  rootOf,
} from './dependencies.ts';
import { type FormDefinition, type FormField, isField } from './form.ts';
import { placeField } from './generate.ts';

/** A field of a form with everything settled that the table, the option list and the form say about it. */
export interface PreparedField {
  readonly id: string;
  /** False for a field that the form only carries, because a rule or calculation of its table needs it. */
  readonly placed: boolean;
  readonly label: string;
  readonly help: string;
  readonly field: FieldDefinition;
  readonly required: boolean;
  readonly requiredWhen: Condition | null;
  /** Its own condition and its section’s, together. */
  readonly shownWhen: Condition | null;
  readonly keepHidden: boolean;
  readonly readOnly: boolean;
  readonly initial: Initial | null;
  /** A default that is calculated; it follows what it reads until somebody types. */
  readonly beginsWith: Expression | null;
  readonly calculation: Expression | null;
  readonly source: Source | undefined;
  readonly narrowing: Narrowing;
  readonly fill: Fill | null;
  /** Columns of the linked record that this form reads: for narrowing, fills, rules and reference cards. */
  readonly factPaths: readonly string[];
}

/** What reads a field, and has to be computed anew when it changes. */
export interface Readers {
  /** Fields whose visibility, requiredness or calculation reads it. */
  readonly fields: readonly string[];
  /** Places of rules in the form’s list. */
  readonly rules: readonly number[];
}

/** A form ready to run: what both the browser and the server work with. */
export interface PreparedForm {
  readonly definition: FormDefinition;
  readonly table: TableDefinition;
  readonly tables: Tables;
  readonly fields: ReadonlyMap<string, PreparedField>;
  readonly rules: readonly PreparedRule[];
  readonly readers: ReadonlyMap<string, Readers>;
  readonly wiring: Wiring;
}

/**
 * Settles a form over its tables. Throws for a table that is not there; a field that has gone from the table is left
 * out, and the proof names it.
 */
export function prepareForm(definition: FormDefinition, tables: Tables): PreparedForm {
  const table = tables.get(definition.table);
  if (!table) throw new Error(`The form ${definition.label} is over a table that is not there: ${definition.table}`);
  const placed = definition.sections.flatMap((section) =>
    section.items.filter(isField).flatMap((one) => {
      const field = findField(table, one.field);
      return field ? [{ one, field, shownWhen: section.shownWhen, placed: true }] : [];
    }),
  );
  const known = new Set(placed.map(({ field }) => field.id));
  const carried = carriedFields(table, tables, known).map((field) => ({
    one: { ...placeField(field), readOnly: true },
    field,
    shownWhen: null,
    placed: false,
  }));
  const siblings = placed.map(({ field }) => field);
  const reading = [...placed, ...carried].map((one) => ({
    ...settleField(one.one, one.field, one.shownWhen, siblings, table, tables),
    placed: one.placed,
  }));
  const rules = [
    ...table.rules.map((rule) => prepareRule(rule, table, tables, true)),
    ...definition.rules.map((rule) => prepareRule(rule, table, tables, false)),
  ];
  const read = pathsRead(definition, tables, reading, rules);
  const fields = new Map(reading.map((one) => [one.id, { ...one, factPaths: [...(read.get(one.id) ?? [])].sort() }]));
  const wiring = arrange([...fields.keys()], edgesOf(reading, rules));
  return {
    definition,
    table,
    tables,
    fields,
    rules,
    wiring,
    readers: readersOf(fields, rules, wiring),
  };
}

function settleField(
  one: FormField,
  field: FieldDefinition,
  ofSection: Condition | null,
  siblings: readonly FieldDefinition[],
  table: TableDefinition,
  tables: Tables,
): Omit<PreparedField, 'factPaths' | 'placed'> {
  const source = sourceOf(field);
  const initial = one.initial ?? field.initial;
  const calculation = one.calculation ?? field.calculation;
  return {
    id: field.id,
    label: one.label ?? field.label,
    help: one.help ?? field.help,
    field,
    required: field.required || one.required,
    requiredWhen: one.requiredWhen,
    shownWhen: ofSection && one.shownWhen ? all(ofSection, one.shownWhen) : (ofSection ?? one.shownWhen),
    keepHidden: one.keepHidden,
    readOnly: one.readOnly || isGiven(field) || calculation !== null,
    initial,
    beginsWith: initial?.kind === 'calculation' ? expressionOver(initial.source, table, tables) : null,
    calculation: calculation === null ? null : expressionOver(calculation, table, tables),
    source,
    narrowing: source
      ? withAncestors(field, levelsOf(tables, source), siblings, one.narrowing ?? NOT_NARROWED)
      : NOT_NARROWED,
    fill: one.fill,
  };
}

const levelsOf = (tables: Tables, source: Source): string[] =>
  source.column === undefined ? [] : (tables.get(source.table)?.fields ?? []).map((field) => field.id);

function readersOf(
  fields: ReadonlyMap<string, PreparedField>,
  rules: readonly PreparedRule[],
  wiring: Wiring,
): Map<string, Readers> {
  const readers = new Map(
    [...fields.keys()].map((id) => [id, { fields: new Set<string>(), rules: new Set<number>() }]),
  );
  for (const edge of wiring.edges)
    if (
      edge.kind === 'shows' ||
      edge.kind === 'calculates' ||
      (edge.kind === 'checks' && fields.get(edge.to)?.requiredWhen)
    )
      readers.get(edge.from)?.fields.add(edge.to);
  rules.forEach((rule, at) => {
    for (const path of [rule.at, ...rule.reads]) readers.get(rootOf(path))?.rules.add(at);
  });
  return new Map([...readers].map(([id, one]) => [id, { fields: [...one.fields], rules: [...one.rules] }]));
}
