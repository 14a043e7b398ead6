import { setOffice } from '@fiche/core/office';
import { beforeAll, expect, test } from 'vitest';
import { accountStatus, tokenStatus } from './status.ts';

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
    'now; last used 2026-11-26 09:14; a reset link that expires 2026-11-27 10:00; second factor',
  ],
  [{ invited: true, linkUntil: '2026-12-03T07:20:00Z' }, 'invited; the link expires 2026-12-03 07:20'],
  [{ invited: true }, 'invited; the link has expired'],
  [{ closed: true, lastSeen: '2026-11-26T09:14:00Z' }, 'closed'],
])('an account with %j reads: %s', (own, words) => {
  expect(accountStatus({ ...account, ...own }, show)).toBe(words);
});

test.each([
  [{}, 'never yet'],
  [{ used: '2026-11-26T09:14:00Z' }, 'last 2026-11-26 09:14'],
  // The last moment of 30 June in the Azores, an hour behind in winter and none in summer.
  [{ expires: '2027-07-01T00:00:00Z' }, 'never yet; expires after 30 Jun 2027'],
  [
    { expires: '2027-01-01T01:00:00Z', used: '2026-11-26T09:14:00Z' },
    'last 2026-11-26 09:14; expires after 31 Dec 2026',
  ],
  [{ expires: '2026-11-01T01:00:00Z' }, 'expired after 31 Oct 2026'],
  [{ expires: '2027-01-01T01:00:00Z', revoked: '2026-11-26T09:14:00Z' }, 'revoked 2026-11-26 09:14'],
])('a token with %j reads: %s', (own, words) => {
  const token = { revoked: null, expires: null, used: null, ...own };
  expect(tokenStatus(token, show, new Date('2026-11-26T12:00:00Z'))).toBe(words);
});
