import type { Value } from '../fields/index.ts';
import type { Sql } from './conditionToSql.ts';

/** An SQL text with its values inlined into it, for a place where none can be bound. It holds no question mark. */
export function inlined({ text, values }: Sql): string {
  const parts = text.split('?');
  if (parts.length !== values.length + 1) throw new Error('Values and their places differ in number');
  return parts.map((part, at) => (at === 0 ? part : literal(values[at - 1] ?? null) + part)).join('');
}

/** A value as an SQL literal; of a text every character but plain letters, digits and spaces by its code. */
function literal(value: Value): string {
  if (value === null) return 'NULL';
  if (typeof value === 'boolean' || typeof value === 'number') return `'${value}'`;
  if (typeof value !== 'string') throw new Error('A list cannot be compared in SQL');
  const escaped = value.replace(
    /[^A-Za-z0-9 ]/gu,
    (one) => `\\U${(one.codePointAt(0) ?? 0).toString(16).padStart(8, '0')}`,
  );
  return `E'${escaped}'`;
}
