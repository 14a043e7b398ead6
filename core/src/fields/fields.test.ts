import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { fileName, readFileToken } from './attachments.ts';
import { convert } from './convert.ts';
import { FIELD_TYPES, fieldType } from './registry.ts';
import { compareValues, type Value } from './value.ts';

const settingsOf: Record<string, Record<string, unknown>> = {
  decimal: { places: 3, unit: 'm' },
  amount: { currency: 'CHF' },
  choice: { choices: ['Tender', 'Ketch'] },
  choices: { choices: ['Diver', 'Crane, large', 'the "old" slip', 'a;b'] },
  link: { table: 'vessels' },
  links: { table: 'vessels' },
  percent: { places: 2 },
  sequence: { prefix: 'STAY-', withYear: true, width: 5, first: 1 },
};

const cleanText = fc.string({ minLength: 1, unit: 'grapheme' }).filter((s) => fieldType('longText').accept(s, {}).ok);
const two = (n: number) => String(n).padStart(2, '0');
const days = fc
  .tuple(fc.integer({ min: 1000, max: 9999 }), fc.integer({ min: 1, max: 12 }), fc.integer({ min: 1, max: 28 }))
  .map(([y, m, d]) => `${y}-${two(m)}-${two(d)}`);
const times = fc
  .tuple(fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 59 }))
  .map(([h, m]) => `${two(h)}:${two(m)}`);

const samples: Record<string, fc.Arbitrary<unknown>> = {
  text: cleanText.map((s) => s.replace(/\s+/g, ' ')),
  longText: cleanText,
  wholeNumber: fc.integer({ min: -999_999_999_999_999, max: 999_999_999_999_999 }),
  decimal: fc.integer({ min: -99_999_999_999, max: 99_999_999_999 }).map((n) => n / 1000),
  yesNo: fc.boolean(),
  date: days,
  dateTime: fc.tuple(days, times).map(([d, t]) => `${d}T${t}`),
  choice: fc.constantFrom('Tender', 'Ketch'),
  choices: fc.uniqueArray(fc.constantFrom('Diver', 'Crane, large', 'the "old" slip', 'a;b')),
  link: fc.integer({ min: 1 }),
  links: fc.uniqueArray(fc.integer({ min: 1 }), { maxLength: 20 }),
  percent: fc.integer({ min: -99_999, max: 99_999 }).map((n) => n / 100),
  time: times,
  email: fc.constantFrom('quay@gannet.example', 'a.b+c@sound.example'),
  phone: fc.constantFrom('+44 1632 960017', '01632-960 017 ext 4'),
  webAddress: fc.webUrl({ validSchemes: ['http', 'https'] }),
  rating: fc.integer({ min: 1, max: 5 }),
  amount: fc.integer({ min: -99_999_999_999, max: 99_999_999_999 }).map((n) => n / 100),
  account: fc.stringMatching(/^[a-z][a-z0-9._-]{1,39}$/),
  sequence: fc.constant('STAY-2026-00001'),
};

describe('every field type', () => {
  // Files are shown by their names, which say too little to find them again.
  const written = FIELD_TYPES.filter((type) => type.name !== 'attachments');
  test.each(written.map((type) => [type.name, type] as const))('%s reads back what it shows', (name, type) => {
    const settings = type.settingsSchema.parse(settingsOf[name] ?? {});
    fc.assert(
      fc.property(samples[name] as fc.Arbitrary<unknown>, (sample) => {
        const accepted = type.accept(sample, settings);
        if (!accepted.ok || accepted.value === null) return;
        expect(type.parse(type.format(accepted.value, settings), settings)).toEqual(accepted);
        expect(type.accept(accepted.value, settings)).toEqual(accepted);
      }),
    );
  });

  test.each([
    ['wholeNumber', 'twelve', 'such as 12'],
    ['wholeNumber', '1.5', 'such as 12'],
    ['wholeNumber', '9999999999999999', 'too large'],
    ['decimal', '12.3456', 'decimal places'],
    ['amount', 'twelve', 'CHF 12.50'],
    ['amount', '12.345', 'CHF 12.50'],
    ['amount', '€12', 'CHF 12.50'],
    ['account', 'Ailsa Marwick', 'a login'],
    ['yesNo', 'maybe', 'yes or no'],
    ['date', 'soon', '17 Aug 2026'],
    ['date', '31 Feb 2026', 'no such day'],
    ['date', '29/2/2025', 'no such day'],
    ['dateTime', '31.2.2026 10:00', 'no such day'],
    ['dateTime', '3 Mar 2026', 'a time'],
    ['dateTime', '3 Mar 2026 25:00', '15:30'],
    ['text', 'a\u0000b', 'cannot be stored'],
    ['time', '25:00', 'such as 15:30'],
    ['email', 'quay at gannet', 'quay@gannet.example'],
    ['phone', 'the night desk', '+44 1632 960017'],
    ['webAddress', 'javascript:alert(1)', 'https://'],
    ['webAddress', 'quay', 'https://'],
    ['rating', '7', 'from 1 to 5'],
    ['percent', 'half', 'such as 12.5'],
  ])('%s refuses “%s” and says what it takes', (name, typed, words) => {
    const type = fieldType(name);
    const answer = type.parse(typed, type.settingsSchema.parse(settingsOf[name] ?? {}));
    expect(answer).toMatchObject({ ok: false, message: expect.stringContaining(words) });
  });

  test.each([
    ['date', '17/8/26', '2026-08-17'],
    ['date', '17 august 2026', '2026-08-17'],
    ['date', '29.2.2024', '2024-02-29'],
    ['dateTime', '17.8.26 930', '2026-08-17T09:30'],
    ['dateTime', '17 Aug 2026, 15:30', '2026-08-17T15:30'],
    ['wholeNumber', '1,234', 1234],
    ['decimal', '12,5', 12.5],
    ['decimal', '11.20 m', 11.2],
    ['yesNo', 'Y', true],
    ['choice', 'tender', 'Tender'],
    ['choices', 'diver; "Crane, large", diver', ['Diver', 'Crane, large']],
    ['choices', ' , ', null],
    ['time', '9.05', '09:05'],
    ['percent', '12.5%', 12.5],
    ['phone', '+44  1632 960017', '+44 1632 960017'],
    ['webAddress', 'gannet-sound.example/berths', 'https://gannet-sound.example/berths'],
    ['rating', '4 of 5', 4],
    ['text', '  two\r\nlines ', 'two lines'],
    ['text', '   ', null],
  ] as [string, string, Value][])('%s takes “%s”', (name, typed, value) => {
    const type = fieldType(name);
    expect(type.parse(typed, type.settingsSchema.parse(settingsOf[name] ?? {}))).toEqual({ ok: true, value });
  });

  test('limits name the limit', () => {
    expect(fieldType('wholeNumber').check(7, { least: 8 })).toEqual([{ rule: 'least', message: 'At least 8.' }]);
    expect(fieldType('text').check('x1', { pattern: 'GS-\\d{4}', patternMessage: 'Like GS-0421.' })).toEqual([
      { rule: 'pattern', message: 'Like GS-0421.' },
    ]);
    expect(fieldType('text').check('quay', { mostLength: 3 })[0]?.rule).toBe('length');
  });
});

describe('an input mask', () => {
  const mask = fieldType('text').settingsSchema.parse({ mask: 'AA-0000' });
  test.each([
    ['gs0421', 'GS-0421'],
    ['gs 0421', 'GS-0421'],
    ['GS-0421', 'GS-0421'],
  ])('brings “%s” into its form', (typed, value) => {
    const read = fieldType('text').parse(typed, mask);
    expect(read).toEqual({ ok: true, value });
    expect(fieldType('text').check(value, mask)).toEqual([]);
  });
  test('has letters of its own in either case, and puts in what was left out', () => {
    const own = fieldType('text').settingsSchema.parse({ mask: 'GS-0000' });
    for (const typed of ['0421', 'gs 0421', 'Gs-0421'])
      expect(fieldType('text').parse(typed, own)).toEqual({ ok: true, value: 'GS-0421' });
  });
  test.each(['gs421', 'gs04211', '0421gs'])('shows an example for “%s”', (typed) => {
    const read = fieldType('text').parse(typed, mask);
    expect(read.ok && fieldType('text').check(read.value, mask)).toEqual([
      { rule: 'mask', message: 'Write it like AB-1234.' },
    ]);
  });
});

describe('converting to another type', () => {
  const plain = (type: string, settings: Record<string, unknown> = {}) => ({
    type,
    settings: fieldType(type).settingsSchema.parse(settings),
  });
  test.each([
    ['text', '1,250', 'wholeNumber', 1250],
    ['text', '12.5 m', 'decimal', undefined],
    ['decimal', 12.5, 'wholeNumber', undefined],
    ['decimal', 12, 'wholeNumber', 12],
    ['date', '2026-08-17', 'dateTime', '2026-08-17T00:00'],
    ['dateTime', '2026-08-17T15:30', 'date', '2026-08-17'],
    ['text', 'yes', 'yesNo', true],
    ['text', 'A, B', 'choices', undefined],
    ['wholeNumber', 7, 'rating', undefined],
    ['yesNo', false, 'text', 'no'],
  ] as [string, Value, string, Value | undefined][])('a %s %j as a %s is %j', (from, value, to, expected) => {
    const read = convert(value, plain(from), plain(to));
    expect(read.ok ? read.value : undefined).toEqual(expected);
  });
});

test('text is ordered by code point, also above U+FFFF', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), fc.string({ unit: 'binary' }), (a, b) => {
      const bytes = Math.sign(Buffer.compare(Buffer.from(a), Buffer.from(b)));
      expect(Math.sign(compareValues(a, b) ?? Number.NaN)).toBe(bytes);
    }),
  );
});

describe('attachments', () => {
  const type = fieldType('attachments');
  const settings = type.settingsSchema.parse({ mostCount: 2 });
  const id = '0b9a3c1e-5a77-4c0d-9d4e-0f3a1b2c4d5e';

  test('a file is its id and its name; anything else is refused, and text cannot name one', () => {
    expect(type.accept([`${id}/Kaimauer.jpg`, `${id}/Kaimauer.jpg`], settings)).toEqual({
      ok: true,
      value: [`${id}/Kaimauer.jpg`],
    });
    expect(type.format([`${id}/a.jpg`, `${id}/b.pdf`], settings)).toBe('a.jpg, b.pdf');
    for (const json of ['x', ['x'], [`${id}/`], [1], [`${id}`]]) expect(type.accept(json, settings).ok).toBe(false);
    expect(type.parse('a.jpg', settings).ok).toBe(false);
    expect(type.check([`${id}/a`, `${id}/b`, `${id}/c`], settings)).toHaveLength(1);
  });

  test('a name keeps its script and loses what would hide what it is', () => {
    expect(fileName('../../etc/泊位 図.png')).toBe('泊位 図.png');
    expect(fileName('C:\\photos\\quay.jpg')).toBe('quay.jpg');
    expect(fileName('gpj.\u202eexe')).toBe('gpj.exe');
    expect(fileName('..')).toBe('file');
    expect([...fileName(`${'å'.repeat(300)}.jpeg`)]).toHaveLength(120);
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (name) => {
        const kept = fileName(name);
        expect(readFileToken(`${id}/${kept}`)).toEqual({ id, name: kept });
      }),
    );
  });
});
