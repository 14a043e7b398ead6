import { all, type Condition, pathsOf } from '../conditions/index.ts';
import { homeOf, tableOfPart, tablesOfForm } from '../destinations/index.ts';
import type { LinesOf } from '../expressions/index.ts';
import { NOT_NARROWED, type Source, sourceOf, withAncestors, withTableNarrowing } from '../narrowing/index.ts';
import { type FieldDefinition, findField, isGiven, type TableDefinition, type Tables } from '../tables/index.ts';
import { arrange, type Wiring } from '../wiring/index.ts';
import {
  carriedFields,
  ENCLOSING,
  edgesOf,
  expressionOver,
  moverOf,
  moversOfRule,
  pathsOfField,
  pathsRead,
  prepareRule,
  rootOf,
} from './dependencies.ts';
import { type DefinedForm, isField, isSubform, type PlacedField, type Subform } from './form.ts';
import { placeField } from './generate.ts';
import {
  type Enclosure,
  type FieldLimits,
  inEnclosing,
  type PreparedField,
  type PreparedForm,
  type PreparedRule,
  type PreparedSubform,
  type Readers,
} from './prepared.ts';
import { isWhole, lineForm, linesTable } from './subform.ts';

/**
 * Settles a form over its tables; `enclosure` is given for the form of a line, `limits` for somebody who does not see or
 * write every field: what is hidden is carried unseen. Throws for a table that is not there; a field or subform that has
 * gone from the tables is left out, and the proof names it.
 */
export function prepareForm(
  definition: DefinedForm,
  whole: Tables,
  enclosure?: Enclosure,
  limits: FieldLimits = NO_LIMITS,
): PreparedForm {
  const tables = tablesOfForm(definition, whole);
  const table = tables.get(definition.table);
  if (!table) throw new Error(`The form ${definition.label} is over a table that is not there: ${definition.table}`);
  const subforms = definition.sections.flatMap((section) =>
    section.items
      .filter(isSubform)
      .filter((one) => isWhole(one, linesTable(definition, one), tables))
      .map((one) => prepareLines(one, together(section.shownWhen, one.shownWhen), table, tables, limits)),
  );
  const lines: LinesOf[] = subforms.map(({ id, form }) => ({ id, fields: form.table.fields }));
  const placed = definition.sections.flatMap((section) =>
    section.items.filter(isField).flatMap((one) => {
      const field = findField(table, one.field);
      if (!field) return [];
      const home = homeOf(definition, field.id);
      const limit = limits(tableOfPart(definition, home.part), home.field);
      const settled = limit === undefined ? one : { ...one, readOnly: true };
      return [{ one: settled, field, shownWhen: section.shownWhen, placed: limit !== 'hidden' }];
    }),
  );
  const known = new Set(placed.map(({ field }) => field.id));
  const byLines = subforms.flatMap((one) => enclosingPaths(one.form));
  const carried = carriedFields(table, tables, known, byLines.map(rootOf))
    .filter((field) => field.id !== enclosure?.link)
    .map((field) => ({ one: { ...placeField(field), readOnly: true }, field, shownWhen: null, placed: false }));
  const siblings = placed.map(({ field }) => field);
  const reading = [...placed, ...carried].map((one) => ({
    ...settleField(one.one, one.field, one.shownWhen, siblings, table, tables, lines),
    placed: one.placed,
  }));
  const rules = [
    ...table.rules.map((rule) => prepareRule(rule, table, tables, true, lines)),
    ...definition.rules.map((rule) => prepareRule(rule, table, tables, false, lines)),
  ];
  const read = pathsRead(definition, tables, reading, rules, byLines);
  const fields = new Map(reading.map((one) => [one.id, { ...one, factPaths: [...(read.get(one.id) ?? [])].sort() }]));
  const wired = subforms.map(({ id, shownWhen, form }) => ({ id, shownWhen, reads: readsOf(form) }));
  const edges = edgesOf(reading, rules, enclosure, wired);
  const outer = new Set(edges.map((edge) => edge.from).filter((id) => id.startsWith(ENCLOSING)));
  const wiring = arrange([...outer, ...fields.keys(), ...subforms.map((one) => one.id)], edges);
  const paths = [...reading.flatMap(pathsOfField), ...rules.flatMap((rule) => rule.reads), ...shownPaths(subforms)];
  return {
    definition,
    table,
    tables,
    ...(tables === whole ? {} : { stored: whole }),
    fields,
    subforms: new Map(subforms.map((one) => [one.id, { ...one, columns: columnsRead(one.id, paths) }])),
    enclosure,
    rules,
    wiring,
    readers: readersOf(fields, rules, wiring, enclosure),
  };
}

const NO_LIMITS: FieldLimits = () => undefined;

const together = (a: Condition | null, b: Condition | null): Condition | null => (a && b ? all(a, b) : (a ?? b));

function prepareLines(
  definition: Subform,
  shownWhen: Condition | null,
  table: TableDefinition,
  tables: Tables,
  limits: FieldLimits,
): PreparedSubform {
  const around = { table, link: definition.link, part: definition.of };
  const form = prepareForm(lineForm(definition, tables), tables, around, limits);
  const enclosing = new Set(enclosingPaths(form).map(rootOf));
  return {
    id: definition.id,
    label: form.definition.label,
    definition,
    form,
    shownWhen,
    enclosing,
    ordered: true,
    columns: [],
  };
}

/** The paths of the enclosing record that the form of a line reads. */
function enclosingPaths(form: PreparedForm): string[] {
  const link = `${form.enclosure?.link}.`;
  const { enclosure } = form;
  const within = (path: string): string[] =>
    enclosure && path.startsWith(link) ? [inEnclosing(enclosure, path.slice(link.length))] : [];
  return [
    ...[...form.fields.values()].flatMap((field) => [
      ...pathsOfField(field).flatMap(within),
      ...[field.narrowing.where, field.shownWhen, field.requiredWhen].flatMap((one) =>
        one ? pathsOf(one, 'enclosing') : [],
      ),
    ]),
    ...form.rules.flatMap((rule) => [...rule.reads.flatMap(within), ...rule.enclosing]),
  ];
}

/** What the lines of a subform read of the form around them, and what for. */
const readsOf = (form: PreparedForm) =>
  form.wiring.edges
    .filter((edge) => edge.from.startsWith(ENCLOSING))
    .map(({ kind, from }) => ({ kind, field: from.slice(ENCLOSING.length) }));

const shownPaths = (subforms: readonly PreparedSubform[]): string[] =>
  subforms.flatMap(({ shownWhen }) => (shownWhen ? pathsOf(shownWhen, 'form') : []));

const columnsRead = (id: string, paths: readonly string[]): string[] => [
  ...new Set(paths.flatMap((path) => (path.startsWith(`${id}.`) ? [path.split('.')[1] ?? ''] : []))),
];

function settleField(
  one: PlacedField,
  field: FieldDefinition,
  ofSection: Condition | null,
  siblings: readonly FieldDefinition[],
  table: TableDefinition,
  tables: Tables,
  lines: readonly LinesOf[],
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
    shownWhen: together(ofSection, one.shownWhen),
    keepHidden: one.keepHidden,
    readOnly: one.readOnly || isGiven(field) || calculation !== null,
    initial,
    beginsWith: initial?.kind === 'calculation' ? expressionOver(initial.source, table, tables, lines) : null,
    calculation: calculation === null ? null : expressionOver(calculation, table, tables, lines),
    source,
    narrowing: source
      ? withTableNarrowing(
          field,
          withAncestors(field, levelsOf(tables, source), siblings, one.narrowing ?? NOT_NARROWED),
        )
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
  enclosure: Enclosure | undefined,
): Map<string, Readers> {
  const readers = new Map(wiring.order.map((id) => [id, { fields: new Set<string>(), rules: new Set<number>() }]));
  const open = (id: string) => {
    const known = readers.get(id) ?? { fields: new Set<string>(), rules: new Set<number>() };
    readers.set(id, known);
    return known;
  };
  for (const edge of wiring.edges)
    if (
      edge.kind === 'shows' ||
      edge.kind === 'calculates' ||
      (edge.kind === 'checks' && fields.get(edge.to)?.requiredWhen)
    )
      readers.get(edge.from)?.fields.add(edge.to);
  rules.forEach((rule, at) => {
    readers.get(moverOf(rule.at, enclosure))?.rules.add(at);
    // A rule may stand at a field that the form does not have, or read the enclosing record without a wire.
    for (const from of moversOfRule(rule, enclosure)) open(from).rules.add(at);
  });
  return new Map([...readers].map(([id, one]) => [id, { fields: [...one.fields], rules: [...one.rules] }]));
}
