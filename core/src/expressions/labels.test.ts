import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { acceptLabels } from './labels.ts';

const FIELDS = [
  { id: 'quantity', label: 'Quantity' },
  { id: 'price', label: 'Price' },
  { id: 'nightly_rate', label: 'Nightly rate' },
  { id: 'rate', label: 'Rate' },
  { id: 'owners_phone', label: 'Owner’s phone' },
  { id: 'berth', label: 'Berth' },
];
const COLUMNS = [{ id: 'longest_vessel', label: 'Longest vessel' }];

describe('a formula written with labels', () => {
  test.each([
    ['Quantity × Price', 'quantity * price'],
    ['quantity*price', 'quantity*price'],
    ['Nightly  Rate + rate', 'nightly_rate + rate'],
    ['Owner’s phone != "Price"', 'owners_phone != "Price"'],
    ['Berth.Longest vessel ≥ 6', 'berth.longest_vessel >= 6'],
    ['Prices', 'Prices'],
    ['round(Price ÷ 2)', 'round(price / 2)'],
    ['“Price”', '"Price"'],
  ])('%s is %s', (written, cel) => {
    expect(acceptLabels(written, FIELDS, COLUMNS)).toBe(cel);
  });

  test('reads back what it writes, in any order of names and signs', () => {
    const term = fc.constantFrom(...FIELDS);
    const sign = fc.constantFrom(' * ', ' + ', ' - ', ' / ', ' < ');
    fc.assert(
      fc.property(term, fc.array(fc.tuple(sign, term), { maxLength: 6 }), (first, rest) => {
        const of = (name: 'id' | 'label') => first[name] + rest.map(([one, field]) => one + field[name]).join('');
        expect(acceptLabels(of('label'), FIELDS)).toBe(of('id'));
        expect(acceptLabels(of('id'), FIELDS)).toBe(of('id'));
      }),
    );
  });
});
