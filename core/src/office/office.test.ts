import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { fieldType, formatDay } from '../fields/index.ts';
import { officeSchema } from '../officeSettings/index.ts';
import { civilOf, DEFAULT_OFFICE, formatBytes, formatCount, formatNumber, setOffice, writingOf } from './index.ts';

afterEach(() => setOffice(DEFAULT_OFFICE));
const withLocale = (locale: string): void => setOffice({ ...DEFAULT_OFFICE, locale });
const LOCALES = [
  'en-GB',
  'en-US',
  'de-DE',
  'de-CH',
  'fr-FR',
  'es-ES',
  'it-IT',
  'nl-NL',
  'pt-PT',
  'sv-SE',
  'nb-NO',
  'fi-FI',
  'pl-PL',
];

describe('the time zone of the office', () => {
  test.each([
    ['Europe/Lisbon', '2026-03-29T00:59:59Z', '2026-03-29T00:59'],
    ['Europe/Lisbon', '2026-03-29T01:00:00Z', '2026-03-29T02:00'],
    ['Europe/Lisbon', '2026-10-25T00:30:00Z', '2026-10-25T01:30'],
    ['Europe/Lisbon', '2026-10-25T01:30:00Z', '2026-10-25T01:30'],
    ['Pacific/Auckland', '2026-12-31T12:00:00Z', '2027-01-01T01:00'],
    ['America/St_Johns', '2026-01-01T00:00:00Z', '2025-12-31T20:30'],
  ])('in %s at %s it is %s', (zone, instant, civil) => {
    expect(civilOf(new Date(instant), zone)).toBe(civil);
  });

  test('what is no zone, locale or currency is refused', () => {
    for (const wrong of [{ timeZone: 'Sound/Gannet' }, { locale: 'xx-??' }, { currency: 'ZZ9' }])
      expect(officeSchema.safeParse({ ...DEFAULT_OFFICE, ...wrong }).success).toBe(false);
    expect(officeSchema.parse(DEFAULT_OFFICE)).toEqual(DEFAULT_OFFICE);
  });
});

describe('numbers and dates of the locale', () => {
  test.each([
    ['en-GB', '12,345.60', '17 Aug 2026'],
    ['en-US', '12,345.60', 'Aug 17, 2026'],
    ['de-DE', '12.345,60', '17. Aug. 2026'],
    ['fr-FR', '12\u202f345,60', '17 août 2026'],
    ['sv-SE', '12\u00a0345,60', '17 aug. 2026'],
  ])('%s writes %s and %s', (locale, number, day) => {
    withLocale(locale);
    expect(formatNumber(12_345.6, 2)).toBe(number);
    expect(formatDay('2026-08-17')).toBe(day);
  });

  test('a length in bytes is told in steps of a thousand', () => {
    expect([0, 999, 7_540_000, 120_000_000_000, 2e15].map(formatBytes)).toEqual([
      '0 B',
      '999 B',
      '7.5 MB',
      '120 GB',
      '2000 TB',
    ]);
  });

  test('a year stays in one word, a count does not', () => {
    expect([formatNumber(2026, 0), formatNumber(12_026, 0), formatCount(4212)]).toEqual(['2026', '12,026', '4,212']);
  });

  test.each(LOCALES)('whatever %s writes, it reads back', (locale) => {
    withLocale(locale);
    const settings = { places: 2 };
    fc.assert(
      fc.property(
        fc.integer({ min: -99_999_999, max: 99_999_999 }),
        fc.date({ min: new Date('0001-01-02'), max: new Date('9999-12-30'), noInvalidDate: true }),
        (cents, at) => {
          const number = cents / 100;
          const decimal = fieldType('decimal');
          expect(decimal.parse(decimal.format(number, settings), settings)).toEqual({ ok: true, value: number });
          const day = at.toISOString().slice(0, 10);
          expect(fieldType('date').parse(formatDay(day), {})).toEqual({ ok: true, value: day });
          const moment = `${day}T15:30`;
          const dateTime = fieldType('dateTime');
          expect(dateTime.parse(dateTime.format(moment, {}), {})).toEqual({ ok: true, value: moment });
        },
      ),
    );
  });

  test.each([
    ['de-DE', '1.234,50', 1234.5],
    ['de-DE', '1.234', 1234],
    ['de-DE', '0.500', 0.5],
    ['de-DE', '12,5', 12.5],
    ['en-GB', '1,234', 1234],
    ['en-GB', '0,500', 0.5],
    ['de-CH', '1’234.50', 1234.5],
  ])('in %s, %s is %d', (locale, typed, value) => {
    withLocale(locale);
    expect(fieldType('decimal').parse(typed, { places: 3 })).toEqual({ ok: true, value });
  });

  test.each([
    ['en-US', '8/17/2026', '2026-08-17'],
    ['en-GB', '17/8/26', '2026-08-17'],
    ['en-GB', '17Aug2026', '2026-08-17'],
    ['fr-FR', '17 aout 2026', '2026-08-17'],
    ['fr-FR', '17 Aug 2026', '2026-08-17'],
    ['es-ES', '17 de agosto de 2026', '2026-08-17'],
    ['de-DE', '3. Mär 2026', '2026-03-03'],
    ['sv-SE', '2026-08-17', '2026-08-17'],
  ])('in %s, %s is %s', (locale, typed, day) => {
    withLocale(locale);
    expect(fieldType('date').parse(typed, {})).toEqual({ ok: true, value: day });
  });

  test('the order of a date follows the locale, and a month’s name that could be two is refused', () => {
    expect(LOCALES.map((locale) => writingOf(locale).order)).toContain('monthFirst');
    withLocale('fr-FR');
    expect(fieldType('date').parse('3 jui 2026', {}).ok).toBe(false);
  });
});
