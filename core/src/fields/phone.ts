import { say, sayLater } from '../languages/index.ts';
import { acceptText, formText } from './text.ts';
import { type Parsed, parsed, refused } from './value.ts';

/** At most 15 digits (ITU-T E.164); a few more characters for an extension. */
const FORM = /^\+?[\d\s()./-]{3,30}(?:\s*(?:x|ext\.?)\s*\d{1,6})?$/i;

function accept(json: unknown): Parsed {
  const read = acceptText(json, 40);
  if (!read.ok || read.value === null) return read;
  const plain = String(read.value).replace(/\s+/g, ' ');
  const digits = plain.replace(/(x|ext).*$/i, '').replace(/\D/g, '').length;
  return FORM.test(plain) && digits >= 3 && digits <= 15
    ? parsed(plain)
    : refused(
        say('Type a phone number of digits, with + and the country in front if it has one, such as +44 1632 960017.'),
      );
}

/** A phone number as it is written down: digits with spaces and marks between, kept as typed. */
export const phone = formText('phone', sayLater('phone number'), accept);
