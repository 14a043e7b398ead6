import { say, sayLater } from '../languages/index.ts';
import { acceptText, formText } from './text.ts';
import { type Parsed, refused } from './value.ts';

/** Longest address that can be mailed to (RFC 5321, 4.5.3.1.3). */
const MOST = 254;
/** The addresses that people have: a narrower form than RFC 5322 allows, as browsers check it (HTML, type=email). */
const FORM =
  /^[\w.!#$%&'*+/=?^`{|}~-]+@[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?(?:\.[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?)+$/i;

function accept(json: unknown): Parsed {
  const read = acceptText(json, MOST);
  if (!read.ok || read.value === null) return read;
  return FORM.test(String(read.value))
    ? read
    : refused(say('Type an e-mail address with a name, an @ and a domain, such as quay@gannet.example.'));
}

export const email = { ...formText('email', sayLater('e-mail address'), accept), tellsApart: true, mailed: true };
