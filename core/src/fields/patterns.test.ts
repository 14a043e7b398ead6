import fc from 'fast-check';
import { expect, test } from 'vitest';
import { matchesPattern, patternMisfit } from './patterns.ts';

test('a pattern matches the whole text, as the regular expression of the same source does', () => {
  const sources = ['[A-Z]{2}-\\d{4}', 'a|bc', '(x|y)*z?', '\\p{L}+', '\\u0041.', '[^ ]*'];
  fc.assert(
    fc.property(
      fc.constantFrom(...sources),
      fc.string({ unit: fc.constantFrom(...'aAbBcxyz 09-GS') }),
      (source, text) => {
        expect(matchesPattern(source, text)).toBe(new RegExp(`^(?:${source})$`, 'u').test(text));
      },
    ),
  );
});

test.each([
  ['(a+)+$', `${'a'.repeat(5_000)}b`],
  ['(a|a)*b', 'a'.repeat(5_000)],
  ['(.*)*x', '.'.repeat(5_000)],
])('%s is over at once on text made to never end', (source, text) => {
  const begun = process.hrtime.bigint();
  expect(matchesPattern(source, text)).toBe(false);
  // An engine that goes back would take years; the bound is far above what a slow machine needs.
  expect(Number(process.hrtime.bigint() - begun) / 1e6).toBeLessThan(5_000);
});

test.each([
  ['(?=x)y', 'look ahead or behind'],
  ['(a)\\1', 'refer back'],
  ['a{100000}', 'at most 1,000 times'],
  ['(a', 'not closed'],
  ['a'.repeat(501), 'at most 500'],
])('%s is refused with what to write instead, and refuses no value where it is stored', (source, words) => {
  expect(patternMisfit(source)).toContain(words);
  expect(matchesPattern(source, 'anything')).toBe(true);
});
