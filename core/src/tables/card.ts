import { isBlank, linksSeveral, type Value } from '../fields/index.ts';
import { type FieldDefinition, fieldAtPath, linkedTable, type TableDefinition, type Tables, typeOf } from './table.ts';
import { titleFields, writeTitle } from './title.ts';

/** One line of a reference card: what it is called and how it is read out of a record's columns. */
export interface CardLine {
  readonly path: string;
  readonly label: string;
  readonly field: FieldDefinition;
}

/** The lines of the reference card of a table, in their order; columns that have gone are left out. */
export function cardLines(tables: Tables, table: TableDefinition): CardLine[] {
  return table.card.flatMap((path) => {
    const field = fieldAtPath(tables, table.id, path);
    return field && !linksSeveral(field) ? [{ path, label: labelAlong(tables, table, path), field }] : [];
  });
}

/** `Pontoon’s Letter`: the labels along a path. */
function labelAlong(tables: Tables, table: TableDefinition, path: string): string {
  const steps = path.split('.');
  return steps
    .map((_step, at) => fieldAtPath(tables, table.id, steps.slice(0, at + 1).join('.'))?.label ?? '')
    .join('’s ');
}

/** The columns that have to be known for a reference card: for a link, those that make its title. */
export const cardPaths = (tables: Tables, table: TableDefinition): string[] =>
  cardLines(tables, table).flatMap(({ path, field }) => pathsToShow(tables, path, field));

/** Paths have at most four steps. */
const MOST_STEPS = 4;

function pathsToShow(tables: Tables, path: string, field: FieldDefinition): string[] {
  const target = tables.get(linkedTable(field) ?? '');
  if (!target) return [path];
  return path.split('.').length >= MOST_STEPS
    ? []
    : titleFields(target).flatMap((one) => pathsToShow(tables, `${path}.${one.id}`, one));
}

/** What a line of a reference card says, given the columns of the record; empty where there is nothing. */
export function readCardLine(tables: Tables, line: CardLine, facts: Readonly<Record<string, Value>>): string {
  const show = (path: string, field: FieldDefinition): string => {
    const target = tables.get(linkedTable(field) ?? '');
    if (target) {
      // A link whose record tells nothing is blank, not untitled.
      if (pathsToShow(tables, path, field).every((one) => isBlank(facts[one]))) return '';
      return writeTitle(
        target,
        (one) => (linkedTable(one) === undefined ? (facts[`${path}.${one.id}`] ?? null) : 1),
        (one) => show(`${path}.${one.id}`, one),
      );
    }
    const value = facts[path] ?? null;
    return isBlank(value) ? '' : typeOf(field).format(value, field.settings);
  };
  return show(line.path, line.field);
}
