import { account } from './account.ts';
import { amount } from './amount.ts';
import { attachments } from './attachments.ts';
import { choice } from './choice.ts';
import { choices } from './choices.ts';
import { date } from './date.ts';
import { dateTime } from './dateTime.ts';
import { decimal } from './decimal.ts';
import { email } from './email.ts';
import type { FieldType } from './fieldType.ts';
import { link } from './link.ts';
import { links } from './links.ts';
import { longText } from './longText.ts';
import { percent } from './percent.ts';
import { phone } from './phone.ts';
import { rating } from './rating.ts';
import { sequence } from './sequence.ts';
import { text } from './text.ts';
import { time } from './time.ts';
import { webAddress } from './webAddress.ts';
import { wholeNumber } from './wholeNumber.ts';
import { yesNo } from './yesNo.ts';

/** Every field type, in the order in which they are offered. A new one is a file and a line here. */
export const FIELD_TYPES: readonly FieldType[] = [
  text,
  longText,
  wholeNumber,
  decimal,
  amount,
  percent,
  account,
  yesNo,
  date,
  time,
  dateTime,
  choice,
  choices,
  link,
  links,
  sequence,
  email,
  phone,
  webAddress,
  rating,
  attachments,
];

const byName = new Map(FIELD_TYPES.map((type) => [type.name, type]));

/** The field type of that name. Throws for a name that no type has: definitions are validated before they get here. */
export function fieldType(name: string): FieldType {
  const type = byName.get(name);
  if (!type) throw new Error(`No field type is called ${name}`);
  return type;
}

export const isFieldType = (name: string): boolean => byName.has(name);
