import { setOffice } from '@fiche/core/office';
import { beforeAll, expect, test } from 'vitest';
import { accountStanding, tokenStanding } from './standing.ts';

/** A moment to the minute, as UTC has it. */
const show = (iso: string): string => iso.slice(0, 16).replace('T', ' ');

beforeAll(() => setOffice({ timeZone: 'Atlantic/Azores', locale: 'en-GB', currency: 'EUR' }));

const account = { closed: false, invited: false, linkUntil: null, lastSeen: null, secondFactor: false };

test.each([
  [{}, 'no'],
  [{ lastSeen: '2026-11-26T09:14:00Z' }, 'now; last used 2026-11-26 09:14'],
  [{ secondFactor: true }, 'no; second factor'],
  [
    { lastSeen: '2026-11-26T09:14:00Z', linkUntil: '2026-11-27T10:00:00Z', secondFactor: true },
    'now; last used 2026-11-26 09:14; a link for a new password until 2026-11-27 10:00; second factor',
  ],
  [{ invited: true, linkUntil: '2026-12-03T07:20:00Z' }, 'invited; the link is good until 2026-12-03 07:20'],
  [{ invited: true }, 'invited; the link is too old'],
  [{ closed: true, lastSeen: '2026-11-26T09:14:00Z' }, 'closed'],
])('an account with %j stands so: %s', (own, words) => {
  expect(accountStanding({ ...account, ...own }, show)).toBe(words);
});

test.each([
  [{}, 'never yet'],
  [{ used: '2026-11-26T09:14:00Z' }, 'last 2026-11-26 09:14'],
  // The last moment of 30 June in the Azores, an hour behind in winter and none in summer.
  [{ expires: '2027-07-01T00:00:00Z' }, 'never yet; good until 30 Jun 2027'],
  [{ expires: '2027-01-01T01:00:00Z', used: '2026-11-26T09:14:00Z' }, 'last 2026-11-26 09:14; good until 31 Dec 2026'],
  [{ expires: '2026-11-01T01:00:00Z' }, 'ended with 31 Oct 2026'],
  [{ expires: '2027-01-01T01:00:00Z', revoked: '2026-11-26T09:14:00Z' }, 'revoked 2026-11-26 09:14'],
])('a token with %j stands so: %s', (own, words) => {
  const token = { revoked: null, expires: null, used: null, ...own };
  expect(tokenStanding(token, show, new Date('2026-11-26T12:00:00Z'))).toBe(words);
});
