import { z } from 'zod';

/**
 * A value as it travels and is compared: text, choices, dates (`2026-08-17`) and date-times (`2026-08-17T15:30`) are
 * strings, numbers and links (the linked record's id) are numbers, yes/no is a boolean, several choices or links are a
 * list that is never empty, and blank is null.
 * Numbers hold at most 15 significant digits, so that a double and PostgreSQL's numeric always agree.
 */
export type Value = string | number | boolean | null | readonly string[] | readonly number[];

export const valueSchema: z.ZodType<Value> = z.union([
  z.string().max(100_000),
  z.number(),
  z.boolean(),
  z.null(),
  z.array(z.string().max(2_000)).max(200),
  z.array(z.number()).max(200),
]);

export type Values = Readonly<Record<string, Value>>;

/** Something that is wrong with one place of an entry or a definition; `path` names the place, `rule` the check. */
export interface Problem {
  readonly path: string;
  readonly rule: string;
  readonly message: string;
}

export type Parsed = { readonly ok: true; readonly value: Value } | { readonly ok: false; readonly message: string };

export const parsed = (value: Value): Parsed => ({ ok: true, value });
export const refused = (message: string): Parsed => ({ ok: false, message });

/** True for a value that a person would call blank: null or the empty text. */
export const isBlank = (value: Value | undefined): value is null | undefined | '' =>
  value === null || value === undefined || value === '';

/** Whether two values are the same; lists are the same when their items are, in order. */
export function sameValue(a: Value | undefined, b: Value | undefined): boolean {
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((item, at) => item === b[at]);
  return (a ?? null) === (b ?? null);
}

/**
 * Orders two values that are not blank: text by Unicode code point (PostgreSQL's collation "C"), numbers by size, no
 * before yes. Returns a negative number, 0 or a positive number; undefined when the two cannot be compared.
 */
export function compareValues(a: Value, b: Value): number | undefined {
  if (typeof a === 'string' && typeof b === 'string') return compareCodePoints(a, b);
  if (typeof a === 'number' && typeof b === 'number') return a - b;
  if (typeof a === 'boolean' && typeof b === 'boolean') return Number(a) - Number(b);
  return undefined;
}

/** UTF-16 order differs from code point order only above U+FFFF, where surrogates sort before U+E000 to U+FFFF. */
function compareCodePoints(a: string, b: string): number {
  const end = Math.min(a.length, b.length);
  for (let i = 0; i < end; i++) {
    const x = a.charCodeAt(i);
    const y = b.charCodeAt(i);
    if (x !== y) return aboveSurrogates(x) - aboveSurrogates(y);
  }
  return a.length - b.length;
}

const aboveSurrogates = (unit: number): number =>
  unit >= 0xe000 ? unit - 0x800 : unit >= 0xd800 ? unit + 0x2000 : unit;
