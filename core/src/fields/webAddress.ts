import { say, sayLater } from '../languages/index.ts';
import { acceptText, formText } from './text.ts';
import { type Parsed, parsed, refused } from './value.ts';

/** http and https only: an address of another scheme could do more than be opened. */
const FORM = /^https?:\/\/[^\s/?#@]+\.[^\s/?#@.]+(?:[/?#]\S*)?$/i;

function accept(json: unknown): Parsed {
  const read = acceptText(json, 2_000);
  if (!read.ok || read.value === null) return read;
  const typed = String(read.value);
  const whole = /^[a-z][a-z0-9+.-]*:/i.test(typed) && !/^[^/]+:\d/.test(typed) ? typed : `https://${typed}`;
  return FORM.test(whole)
    ? parsed(whole)
    : refused(say('Type a web address, such as https://gannet-sound.example/berths.'));
}

/** An address on the web; typed without its scheme it gets https. */
export const webAddress = formText('webAddress', sayLater('web address'), accept);
