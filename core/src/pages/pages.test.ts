import fc from 'fast-check';
import { expect, test } from 'vitest';
import { confirmationText } from './confirmation.ts';
import { isCorrectable, unavailableAt, unavailableWords } from './opening.ts';
import { type PublicPage, publicPageSchema, sameCode } from './settings.ts';
import { pageWords } from './words.ts';

const page = (settings: Partial<PublicPage>): PublicPage => publicPageSchema.parse({ slug: 'faults', ...settings });

test('a page takes answers from the minute it opens until the minute it closes, and only so many', () => {
  const between = page({ when: { opens: '2026-08-17T08:00', closes: '2026-08-17T10:00' }, atMost: 3 });
  const at = (now: string, answers = 0) => unavailableAt(between, `2026-08-17T${now}`, answers);
  expect([at('07:59'), at('08:00'), at('09:59', 2), at('09:59', 3), at('10:00')]).toEqual([
    'before',
    undefined,
    undefined,
    'full',
    'closed',
  ]);
  expect(unavailableAt(page({}), '2026-08-17T08:00', 1_000_000)).toBeUndefined();
});

test('whatever the settings, a page is never open before it opens, nor after it has closed', () => {
  const moment = fc
    .date({ min: new Date('1950-01-01T00:00Z'), max: new Date('2100-01-01T00:00Z'), noInvalidDate: true })
    .map((one) => one.toISOString().slice(0, 16));
  fc.assert(
    fc.property(fc.option(moment), fc.option(moment), moment, fc.nat(20), fc.nat(20), (opens, closes, now, most, n) => {
      const unavailable = unavailableAt(page({ when: { opens, closes }, atMost: most + 1 }), now, n);
      const open = (opens === null || now >= opens) && (closes === null || now < closes) && n <= most;
      expect(unavailable === undefined).toBe(open);
    }),
  );
});

test('it says the builder’s words where there are some', () => {
  expect(unavailableWords(page({ words: { full: 'Come next year.' } }), 'full')).toBe('Come next year.');
  expect(unavailableWords(page({}), 'closed')).toContain('takes no more answers');
});

test('an answer can be corrected until the end of a day', () => {
  expect(isCorrectable(page({}), '2026-08-17')).toBe(false);
  expect(isCorrectable(page({ corrections: { until: null } }), '2099-01-01')).toBe(true);
  const until = page({ corrections: { until: '2026-08-17' } });
  expect([isCorrectable(until, '2026-08-17'), isCorrectable(until, '2026-08-18')]).toEqual([true, false]);
});

test('a code is the same in capitals and with blanks around it', () => {
  expect(sameCode('  MÖWE-77 ')).toBe(sameCode('möwe-77'));
});

test('addresses that are none of the web, and two codes that are alike, are refused', () => {
  const refused = (settings: object): string[] =>
    publicPageSchema.safeParse({ slug: 'faults', ...settings }).error?.issues.map((one) => one.message) ?? [];
  expect(refused({ goesOnTo: 'javascript:alert(1)' })).toEqual([
    'Give an address that begins with https:// or http://.',
  ]);
  expect(refused({ goesOnTo: 'https://gannet.example/thanks' })).toEqual([]);
  expect(refused({ sites: ['https://gannet.example/about'] })).toHaveLength(1);
  expect(refused({ sites: ["https://gannet.example; script-src 'unsafe-inline'"] })).toHaveLength(1);
  expect(refused({ sites: ['https://gannet.example:8443', 'http://localhost:4000'] })).toEqual([]);
  const code = (text: string) => ({ code: text, label: text });
  expect(refused({ who: { kind: 'code', codes: [code('gull-1'), code('GULL-1')] } })).toEqual(['Two codes are alike.']);
});

test('the text of a confirmation is filled at its places, and a value that looks like one stays', () => {
  const words = { reference: 'FR-1', values: ['Name: {link}', 'Harbour: Tern Cove'], link: undefined };
  expect(confirmationText('{reference}\n{values}\n{link}{else}', words)).toBe(
    'FR-1\nName: {link}\nHarbour: Tern Cove\n{else}',
  );
});

test('what is set is told in words, and the usual is not', () => {
  const labelOf = (field: string): string => field.toUpperCase();
  expect(pageWords(page({ thanks: '' }), labelOf)).toEqual(['Stands at /p/faults']);
  const all = page({
    who: { kind: 'link', fills: 'owner' },
    when: { opens: '2026-08-17T08:00', closes: null },
    atMost: 1_000,
    atMostFor: { field: 'harbour', most: 2 },
    style: 'slate',
    steps: true,
    locked: ['harbour'],
    corrections: { until: '2026-09-01' },
    consent: 'Yes.',
    sites: ['https://gannet.example'],
    confirmation: { to: 'e_mail', subject: 'Hello', text: 'Text' },
  });
  const told = pageWords(all, labelOf);
  expect(told).toContain('Opens with a personal link, which fills OWNER');
  expect(told).toContain('Takes at most 2 answers for each HARBOUR');
  expect(told).toContain('Confirms to E_MAIL: Hello');
  expect(new Set(told).size).toBe(told.length);
});
