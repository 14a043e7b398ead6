import { formatNumber, PLAIN } from '../office/index.ts';
import type { Settings } from './fieldType.ts';
import { fieldType } from './registry.ts';
import { type Parsed, parsed, refused, type Value } from './value.ts';

interface Typed {
  readonly type: string;
  readonly settings: Settings;
}

/** Types whose values a person could have typed, so that they can be read as another type. */
export function isConvertible(type: string): boolean {
  const { links, numbered, people } = fieldType(type);
  return links === undefined && numbered !== true && people !== true;
}

/** A value as text that another type reads: a number without unit and without marks between thousands. */
export function plainText(value: Value, from: Typed): string {
  const type = fieldType(from.type);
  if (type.family !== 'number' || typeof value !== 'number') return type.format(value, from.settings);
  return formatNumber(value, Number(from.settings.places ?? 0), PLAIN);
}

/**
 * A value of one type as a value of another, as if it had been typed there: its text is read, and has to be within the
 * limits. A date becomes the beginning of its day, a date-time its day. Blank stays blank.
 */
export function convert(value: Value, from: Typed, to: Typed): Parsed {
  if (value === null) return parsed(null);
  const target = fieldType(to.type);
  const read =
    from.type === 'date' && to.type === 'dateTime'
      ? parsed(`${value}T00:00`)
      : from.type === 'dateTime' && to.type === 'date'
        ? parsed(String(value).slice(0, 10))
        : from.type === to.type && typeof value !== 'object'
          ? target.accept(value, to.settings)
          : target.parse(plainText(value, from), to.settings, typeof value === 'number' ? PLAIN : undefined);
  if (!read.ok) return read;
  const [broken] = read.value === null ? [] : target.check(read.value, to.settings);
  return broken ? refused(broken.message) : read;
}
