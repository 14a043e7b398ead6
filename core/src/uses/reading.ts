import { type Condition, type Operand, operandsOf } from '../conditions/index.ts';
import { readExpression } from '../expressions/index.ts';
import type { Value } from '../fields/index.ts';
import {
  type FieldDefinition,
  type FieldId,
  findField,
  linkedTable,
  type TableId,
  type Tables,
} from '../tables/index.ts';

/** A definition in which something is used. */
export interface UsePlace {
  readonly kind: 'form' | 'table' | 'view' | 'role' | 'labels' | 'calendar';
  readonly id: string;
  readonly label: string;
  /** The table of a view, of labels, or of a calendar. */
  readonly table?: TableId;
}

/** One thing that a definition reads: a table, and in it a field or a path of fields; or a value that it compares one with. */
export interface Reading {
  readonly place: UsePlace;
  /** What it reads it for: `what Berth is narrowed by`. */
  readonly words: string;
  readonly table: TableId;
  readonly path?: string;
  /** The constant that the field is compared with, or that it begins with. */
  readonly constant?: Value;
}

/** The tables that the paths of a condition begin at, by the kind of its sides, and the lines of a form by name. */
export interface Bases {
  readonly column?: TableId | undefined;
  readonly form?: TableId | undefined;
  readonly enclosing?: TableId | undefined;
  readonly lines?: ReadonlyMap<string, TableId>;
}

/** Where a path begins: at a table, or at the table of the lines that its first step names. */
function begins(
  path: string,
  base: TableId | undefined,
  lines: Bases['lines'],
): { table: TableId; path: string } | undefined {
  const [first = '', column] = path.split('.');
  const ofLines = lines?.get(first);
  if (ofLines !== undefined) return column === undefined ? undefined : { table: ofLines, path: column };
  return base === undefined ? undefined : { table: base, path };
}

/** What a condition reads, and the constants that it compares fields with. */
export function readingsOfCondition(
  place: UsePlace,
  words: string,
  condition: Condition | null,
  bases: Bases,
): Reading[] {
  if (condition === null) return [];
  if (condition.kind === 'group') return condition.of.flatMap((one) => readingsOfCondition(place, words, one, bases));
  const sides = operandsOf(condition);
  const constant = sides.flatMap((side) => (side.kind === 'constant' ? [side.value] : []))[0];
  return sides.flatMap((side): Reading[] => {
    const base = baseOf(side, bases);
    const at = 'path' in side ? begins(side.path, base, side.kind === 'form' ? bases.lines : undefined) : undefined;
    return at ? [{ place, words, ...at, ...(constant === undefined ? {} : { constant }) }] : [];
  });
}

const baseOf = (side: Operand, bases: Bases): TableId | undefined =>
  side.kind === 'column' || side.kind === 'form' || side.kind === 'enclosing' ? bases[side.kind] : undefined;

/** What an expression over the fields of a table reads. */
export function readingsOfExpression(
  place: UsePlace,
  words: string,
  source: string | null | undefined,
  tables: Tables,
  { form, lines }: Bases,
): Reading[] {
  const table = tables.get(form ?? '');
  if (source == null || !table) return [];
  const known = [...(lines ?? [])].map(([id, of]) => ({ id, fields: tables.get(of)?.fields ?? [] }));
  const read = readExpression(source, table.fields, tables, known);
  if (!('expression' in read)) return [];
  return read.expression.reads.flatMap((path) => {
    const at = begins(path, table.id, lines);
    return at ? [{ place, words, ...at }] : [];
  });
}

/** The fields that a path goes through, each with its table. */
export function fieldsAlong(
  tables: Tables,
  table: TableId,
  path: string,
): { table: TableId; field: FieldDefinition }[] {
  const [first = '', ...rest] = path.split('.');
  const field = findField(tables.get(table), first);
  if (!field) return [];
  const next = linkedTable(field);
  return [
    { table, field },
    ...(rest.length > 0 && next !== undefined ? fieldsAlong(tables, next, rest.join('.')) : []),
  ];
}

/** A reading of one field of a table. */
export const ofField = (place: UsePlace, words: string, table: TableId, field: FieldId): Reading => ({
  place,
  words,
  table,
  path: field,
});
