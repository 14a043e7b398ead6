import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { currencyPlaces, DEFAULT_OFFICE, setOffice } from '../office/index.ts';
import { fieldType } from './registry.ts';
import { type Rounding, roundBy } from './rounding.ts';

const amount = fieldType('amount');
afterEach(() => setOffice(DEFAULT_OFFICE));

describe('an amount', () => {
  test.each([
    ['en-GB', 'EUR', 1234.5, '€1,234.50'],
    ['en-GB', 'EUR', -1234.5, '-€1,234.50'],
    ['en-GB', 'CHF', 12, 'CHF 12.00'],
    ['de-DE', 'EUR', 1234.5, '1.234,50 €'],
    ['fr-FR', 'SEK', -0.5, '-0,50 SEK'],
    ['en-GB', 'JPY', 1234, 'JPY 1234'],
    ['en-GB', 'KWD', 1.5, 'KWD 1.500'],
  ])('in %s of %s reads %d as %s, and back', (locale, currency, value, shown) => {
    setOffice({ ...DEFAULT_OFFICE, locale });
    const settings = amount.settingsSchema.parse({ currency });
    expect(settings.places).toBe(currencyPlaces(currency));
    expect(amount.format(value, settings)).toBe(shown);
    expect(amount.parse(shown, settings)).toEqual({ ok: true, value });
    expect(amount.parse(shown.toLowerCase(), settings)).toEqual({ ok: true, value });
  });

  test('begins with the office’s currency, and keeps the one that it was made with', () => {
    setOffice({ ...DEFAULT_OFFICE, currency: 'NOK' });
    const made = amount.settingsSchema.parse({});
    expect(made).toMatchObject({ currency: 'NOK', places: 2, rounding: 'halfUp' });
    setOffice(DEFAULT_OFFICE);
    expect(amount.settingsSchema.parse(made)).toEqual(made);
    expect(amount.settingsSchema.safeParse({ currency: 'ZZ9' }).success).toBe(false);
  });
});

describe('rounding', () => {
  test.each([
    [2.345, 2.35, 2.34, 2.35, 2.34],
    [2.355, 2.36, 2.36, 2.36, 2.35],
    [-2.345, -2.35, -2.34, -2.35, -2.34],
    [0.1 + 0.2, 0.3, 0.3, 0.3, 0.3],
    [1.005, 1.01, 1, 1.01, 1],
    [2.3401, 2.34, 2.34, 2.35, 2.34],
    [-0.001, 0, 0, -0.01, 0],
  ])('%d half up, half even, up and down', (value, ...expected) => {
    const rules: Rounding[] = ['halfUp', 'halfEven', 'up', 'down'];
    expect(rules.map((rule) => roundBy(value, 2, rule))).toEqual(expected);
  });

  test('gives what fits the places, never further away than one of the last of them, and stays when done twice', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1e9, max: 1e9, noNaN: true }),
        fc.integer({ min: 0, max: 4 }),
        fc.constantFrom<Rounding>('halfUp', 'halfEven', 'up', 'down'),
        (value, places, rule) => {
          const rounded = roundBy(value, places, rule);
          expect(Number(rounded.toFixed(places))).toBe(rounded);
          expect(Math.abs(rounded - value)).toBeLessThanOrEqual(10 ** -places * 1.000001);
          expect(roundBy(rounded, places, rule)).toBe(rounded);
        },
      ),
    );
  });
});

test('a limit is shown with all of its places, though its field has fewer', () => {
  expect(fieldType('percent').check(50, { places: 0, most: 12.5 })).toEqual([
    { rule: 'most', message: 'At most 12.5 %.' },
  ]);
  expect(fieldType('decimal').check(1, { places: 2, least: 10 })).toEqual([
    { rule: 'least', message: 'At least 10.00.' },
  ]);
});
