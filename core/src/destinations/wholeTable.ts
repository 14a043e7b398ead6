import { type Group, mapOperands } from '../conditions/index.ts';
import { holdsFiles, linksOne } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import { type FieldDefinition, isGiven, type TableDefinition, type Tables } from '../tables/index.ts';
import { type Destination, type Destinations, fieldOfDestination, OWN, type Writing } from './destination.ts';
import { rulesOfForm, withRoot } from './rulesOfForm.ts';

const known = new WeakMap<Tables, WeakMap<Destinations, Map<string, Tables>>>();

/**
 * The tables as a form with destinations runs over them: in place of its own table one that has the fields of its
 * destinations as well, under names of their own (`owner__e_mail`). So narrowing, fills and rules reach across. The same for the
 * same tables and destinations, and the tables as they are for a form without.
 */
export function tablesOfForm(form: Writing, tables: Tables): Tables {
  const own = tables.get(form.table);
  if (!form.destinations || !own) return tables;
  const byDestinations = known.get(tables) ?? new WeakMap<Destinations, Map<string, Tables>>();
  known.set(tables, byDestinations);
  const byTable = byDestinations.get(form.destinations) ?? new Map<string, Tables>();
  byDestinations.set(form.destinations, byTable);
  const made = byTable.get(form.table) ?? new Map(tables).set(form.table, wholeTable(form.destinations, own, tables));
  byTable.set(form.table, made);
  return made;
}

function wholeTable(destinations: Destinations, own: TableDefinition, tables: Tables): TableDefinition {
  const taken = new Set(own.fields.map((field) => field.label.toLowerCase()));
  const fields = own.fields.map((field) =>
    isSetByForm(destinations, OWN, field.id) ? { ...field, required: false } : field,
  );
  for (const destination of destinations.of)
    for (const field of tables.get(destination.table)?.fields ?? []) {
      // What the system gives, links that the form sets, and files are not entered here.
      const linked = destinations.links.some((one) => one.of === destination.id && one.field === field.id);
      if (isGiven(field) || holdsFiles(field) || linked) continue;
      const plain = field.label.toLowerCase();
      const label = taken.has(plain)
        ? say('{label} of {other}', {
            label: field.label,
            other: tables.get(destination.table)?.label ?? destination.id,
          })
        : field.label;
      taken.add(plain);
      fields.push(asOfForm(destinations, destination, field, label));
    }
  const rules = destinations.of.flatMap((one) => {
    const table = tables.get(one.table);
    return table ? rulesOfForm(destinations, one, table) : [];
  });
  return { ...own, fields, rules: [...own.rules, ...rules] };
}

/** A field of a destination as the form has it. Its table’s defaults, and what is required there and has one, are left to the server. */
function asOfForm(
  destinations: Destinations,
  { id }: Destination,
  field: FieldDefinition,
  label: string,
): FieldDefinition {
  const named = (path: string): string => withRoot(path, (first) => fieldOfDestination(id, first));
  const narrowing = field.narrowing
    ? (mapOperands(field.narrowing, (one) => (one.kind === 'form' ? { ...one, path: named(one.path) } : one)) as Group)
    : null;
  return {
    ...field,
    id: fieldOfDestination(id, field.id),
    label,
    unique: false,
    required: field.required && field.initial === null && !isSetByForm(destinations, id, field.id),
    initial: null,
    narrowing,
  };
}

/** Whether a link between the records, or another field of the form, gives a field its value. */
const isSetByForm = ({ links, copies }: Destinations, part: string, field: string): boolean =>
  links.some((one) => one.of === part && one.field === field) ||
  copies.some((one) => one.of === part && one.to === field);

/** The links between the records of a form that fit: each link field of one of them that points at the table of another. */
export function fittingLinks(form: Writing, tables: Tables): { of: string; field: FieldDefinition; to: string }[] {
  const parts = [
    { part: OWN, table: form.table },
    ...(form.destinations?.of.map(({ id, table }) => ({ part: id, table })) ?? []),
  ];
  return parts.flatMap(({ part, table }) =>
    (tables.get(table)?.fields ?? [])
      .filter(linksOne)
      .flatMap((field) =>
        parts
          .filter((other) => other.part !== part && other.table === String(field.settings.table))
          .map((other) => ({ of: part, field, to: other.part })),
      ),
  );
}
