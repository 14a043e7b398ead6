import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { defineFieldType } from './fieldType.ts';
import { type Parsed, parsed, refused } from './value.ts';

/** What a login can be: it is stamped into records and never changes. */
export const LOGIN = /^[a-z][a-z0-9._-]{1,39}$/;

function accept(json: unknown): Parsed {
  if (json === null) return parsed(null);
  const login = typeof json === 'string' ? json.trim().toLowerCase() : undefined;
  if (login === '') return parsed(null);
  return login !== undefined && LOGIN.test(login)
    ? parsed(login)
    : refused(say('Choose one of the people of this cabinet, or type a login.'));
}

/**
 * One of the people of the cabinet, by the login, which never changes. Whether there is such an account is not known
 * here: the server asks, and the database holds a foreign key.
 */
export const account = defineFieldType(z.strictObject({}), {
  name: 'account',
  word: sayLater('account'),
  family: 'text',
  group: 'Links',
  people: true,
  startsWithAccount: true,
  editable: true,
  column: () => 'text',
  parse: accept,
  accept,
  format: String,
  check: () => [],
});
