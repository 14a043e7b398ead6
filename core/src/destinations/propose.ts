import { holdsFiles } from '../fields/index.ts';
import { isGiven, nameFrom, type TableDefinition, type Tables, typeOf } from '../tables/index.ts';
import {
  type Destination,
  type Destinations,
  fieldOfDestination,
  OWN,
  type RecordLink,
  type Writing,
} from './destination.ts';
import { writingOrder } from './order.ts';
import { fittingLinks } from './wholeTable.ts';

const MOST_NAME = 12;

/** What tells the records of a table apart, so that one can be found by it: a unique field, or one of a type that does. */
function proposedKey(table: TableDefinition): string[] {
  const written = table.fields.filter((field) => !isGiven(field) && !holdsFiles(field));
  const key = written.find((field) => field.unique) ?? written.find((field) => typeOf(field).tellsApart);
  return key ? [key.id] : [];
}

/** The form with one more table that it writes to: found by what tells its records apart, and linked where a link fits. */
export function withDestination(form: Writing, table: TableDefinition, tables: Tables): Destinations {
  const before = form.destinations ?? { of: [], links: [], copies: [] };
  const taken = new Set([OWN, ...before.of.map((one) => one.id)]);
  const plain = nameFrom(table.label, new Set(), 'other').replaceAll('_', '').slice(0, MOST_NAME);
  let id = plain;
  for (let n = 2; taken.has(id); n++) id = `${plain}${n}`;
  const key = proposedKey(table);
  const added: Destination = {
    id,
    table: table.id,
    does: key.length > 0 ? 'findOrAdd' : 'add',
    key,
    over: 'blanks',
    several: 'refuse',
  };
  return withLinks(form, { ...before, of: [...before.of, added] }, tables);
}

/** With every link that fits, where its field is free and no circle comes of it. */
function withLinks(form: Writing, destinations: Destinations, tables: Tables): Destinations {
  let links: RecordLink[] = [...destinations.links];
  for (const { of, field, to } of fittingLinks({ ...form, destinations }, tables)) {
    if (links.some((one) => one.of === of && one.field === field.id)) continue;
    const next = [...links, { of, field: field.id, to }];
    if ('order' in writingOrder({ ...form, destinations: { ...destinations, links: next } })) links = next;
  }
  return { ...destinations, links };
}

/** Without a table, its links and what goes to it; null where no other is left. */
export function withoutDestination({ destinations }: Writing, id: string): Destinations | null {
  const of = destinations?.of.filter((one) => one.id !== id) ?? [];
  if (!destinations || of.length === 0) return null;
  return {
    of,
    links: destinations.links.filter((one) => one.of !== id && one.to !== id),
    copies: destinations.copies.filter((one) => one.of !== id && !one.from.startsWith(fieldOfDestination(id, ''))),
  };
}
