import { pathsOf } from '@fiche/core/conditions';
import { fieldOfDestination, homeOf, OWN, tableOfPart } from '@fiche/core/destinations';
import { formFields, type PreparedForm } from '@fiche/core/forms';
import { type FieldDefinition, type TableDefinition, type TableId, titleNames } from '@fiche/core/tables';

/**
 * The tables of a form as a public page may know them: its own fields, and of linked tables only the columns that its
 * conditions, fills and rules name. Labels of anything else stay inside.
 */
export function disclosedTables(form: PreparedForm): TableDefinition[] {
  const named = new Map<string, Set<string>>();
  const name = (of: TableId, whole: string): void => {
    // A field of a destination is one of that table.
    const home = of === form.table.id ? homeOf(form.definition, whole) : undefined;
    const [table, path] =
      home && home.part !== OWN ? [tableOfPart(form.definition, home.part), home.field] : [of, whole];
    const [first = '', ...rest] = path.split('.');
    const columns = named.get(table) ?? new Set<string>();
    named.set(table, columns.add(first));
    const next = form.tables.get(table)?.fields.find((field) => field.id === first)?.settings.table;
    if (rest.length > 0 && typeof next === 'string') name(next, rest.join('.'));
  };
  const whole = [form, ...[...form.subforms.values()].map((one) => one.form)];
  for (const { definition, table } of whole) for (const { field } of formFields(definition)) name(table.id, field);
  for (const subform of form.subforms.values()) name(subform.form.table.id, subform.definition.link);
  for (const [field, table] of whole.flatMap((one) => [...one.fields.values()].map((f) => [f, one.table] as const))) {
    name(table.id, field.id);
    if (!field.source) continue;
    named.set(field.source.table, named.get(field.source.table) ?? new Set());
    for (const path of [...field.factPaths, ...pathsOf(field.narrowing.where, 'column'), ...field.narrowing.show])
      name(field.source.table, path);
    if (field.source.column) name(field.source.table, field.source.column);
  }
  for (const { fill } of whole.flatMap((one) => [...one.fields.values()]))
    for (const pair of fill?.pairs ?? []) if (fill && pair.from !== 'self') name(fill.table, pair.from);
  return [...named].flatMap(([id, columns]) => {
    const table = (form.stored ?? form.tables).get(id);
    const fields = table?.fields.filter((field: FieldDefinition) => columns.has(field.id)) ?? [];
    const rules = whole.some((one) => one.table.id === id) ? table?.rules : rulesRun(form, id);
    return table
      ? [
          {
            ...table,
            description: '',
            fields,
            rules: rules ?? [],
            title: titleNames(table.title ?? '').every((name) => columns.has(name)) ? table.title : null,
            retired: [],
            constraints: [],
            card: table.card.filter((path) => columns.has(path.split('.')[0] ?? '')),
          },
        ]
      : [];
  });
}

/** The rules of a destination’s table that run on the form itself. */
const rulesRun = ({ definition, stored, rules }: PreparedForm, table: TableId): TableDefinition['rules'] => {
  const parts = definition.destinations?.of.filter((one) => one.table === table) ?? [];
  return (
    stored
      ?.get(table)
      ?.rules.filter((rule) =>
        parts.some(({ id }) => rules.some((one) => one.id === fieldOfDestination(id, rule.id))),
      ) ?? []
  );
};
