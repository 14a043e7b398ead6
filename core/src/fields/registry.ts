import { choice } from './choice.ts';
import { date } from './date.ts';
import { dateTime } from './dateTime.ts';
import { decimal } from './decimal.ts';
import type { FieldType } from './fieldType.ts';
import { link } from './link.ts';
import { longText } from './longText.ts';
import { sequence } from './sequence.ts';
import { text } from './text.ts';
import { wholeNumber } from './wholeNumber.ts';
import { yesNo } from './yesNo.ts';

/** Every field type, in the order in which they are offered. A new one is a file and a line here. */
export const FIELD_TYPES: readonly FieldType[] = [
  text,
  longText,
  wholeNumber,
  decimal,
  yesNo,
  date,
  dateTime,
  choice,
  link,
  sequence,
];

const byName = new Map(FIELD_TYPES.map((type) => [type.name, type]));

/** The field type of that name. Throws for a name that no type has: definitions are validated before they get here. */
export function fieldType(name: string): FieldType {
  const type = byName.get(name);
  if (!type) throw new Error(`No field type is called ${name}`);
  return type;
}

export const isFieldType = (name: string): boolean => byName.has(name);
