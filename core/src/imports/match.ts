import {
  type FieldDefinition,
  isGiven,
  linkedTable,
  type TableDefinition,
  type Tables,
  targetTable,
  titleFields,
  typeOf,
} from '../tables/index.ts';
import { readCell } from './cell.ts';
import type { ColumnGuess } from './infer.ts';

const bare = (label: string): string =>
  label
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '');

/** Columns that Fiche adds to what it writes out, and that go nowhere when that comes back. */
const OWN = new Set(['reason', 'recordnumber']);

/** Types whose cells look like nothing else. */
const TELLING = new Set(['email', 'webAddress', 'date', 'dateTime', 'time']);

/**
 * Matches the columns of a file to the fields of a table, each field once: by label or column name first, then by the
 * part of a label, then by what the cells hold where only one field can take it. Undefined for a column that goes nowhere.
 */
export function matchColumns(
  columns: readonly { readonly name: string; readonly cells: readonly string[]; readonly guess: ColumnGuess }[],
  table: TableDefinition,
): (FieldDefinition | undefined)[] {
  const open = new Set(table.fields.filter((field) => !isGiven(field)));
  const matched: (FieldDefinition | undefined)[] = columns.map(() => undefined);
  const take = (fits: (column: (typeof columns)[number], field: FieldDefinition) => boolean): void =>
    columns.forEach((column, at) => {
      if (matched[at] || OWN.has(bare(column.name))) return;
      const found = [...open].filter((field) => fits(column, field));
      const [only] = found;
      if (!only || found.length > 1) return;
      matched[at] = only;
      open.delete(only);
    });
  take(({ name }, field) => bare(name) === bare(field.label) || bare(name) === bare(field.id));
  take(({ name }, field) => {
    const [a, b] = [bare(name), bare(field.label)];
    return Math.min(a.length, b.length) >= 4 && (a.includes(b) || b.includes(a));
  });
  take(({ cells, guess }, field) => {
    const present = cells.filter((cell) => cell.trim() !== '').slice(0, 50);
    if (present.length < 3 || !TELLING.has(guess.type)) return false;
    return typeOf(field).name === guess.type && present.every((cell) => readCell(field, cell, guess).ok);
  });
  return matched;
}

/** The column of a linked table that cells name its records by: its title where that is one text, else its first unique text. */
export function matchOn(tables: Tables, field: FieldDefinition): string | null {
  const target = tables.get(targetTable(field) ?? '');
  if (!target) return null;
  const title = titleFields(target);
  const [only] = title;
  if (only && title.length === 1 && linkedTable(only) === undefined) return only.id;
  const unique = target.fields.find((one) => one.unique && typeOf(one).family === 'text');
  return (unique ?? target.fields.find((one) => typeOf(one).family === 'text'))?.id ?? null;
}
