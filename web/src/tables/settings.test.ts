import { FIELD_TYPES, fieldType } from '@fiche/core/fields';
import { describe, expect, test } from 'vitest';
import { settingsOf, showSetting, withSetting } from './settings.ts';

/** A text that each setting takes, and what it is then. */
const TYPED: Readonly<Record<string, readonly [string, unknown]>> = {
  'wholeNumber.least': ['3', 3],
  'wholeNumber.unit': ['berths', 'berths'],
  'decimal.most': ['12.5', 12.5],
  'date.least': ['17/8/26', '2026-08-17'],
  'dateTime.most': ['17.8.26 930', '2026-08-17T09:30'],
  'time.least': ['7:30', '07:30'],
  'text.mask': ['GS-0000', 'GS-0000'],
  'text.mostLength': ['40', 40],
  'choice.choices': ['Ketch, "Barge, flat"', ['Ketch', 'Barge, flat']],
  'choices.mostCount': ['2', 2],
  'rating.most': ['7', 7],
};

describe('a setting of a field', () => {
  test.each(Object.entries(TYPED))('%s is set as it is typed, shown, and taken out again', (path, [typed, value]) => {
    const [type = '', key = ''] = path.split('.');
    const one = settingsOf(type, {}).find((setting) => setting.key === key);
    if (!one) throw new Error(`No setting ${path}`);
    const settings = withSetting(type, { other: true }, one, typed);
    expect(settings).toEqual({ other: true, [key]: value });
    const { other: _other, ...plain } = settings;
    expect(fieldType(type).settingsSchema.safeParse(plain).success).toBe(true);
    // What its picker begins with gives the same setting.
    expect(withSetting(type, {}, one, showSetting(type, settings, one).text)).toEqual({ [key]: value });
    expect(withSetting(type, settings, one, ' ')).toEqual({ other: true });
    expect(showSetting(type, {}, one)).toEqual({ shown: one.none, text: '' });
  });

  test('says what is wrong with what was typed', () => {
    const [least] = settingsOf('date', {});
    if (!least) throw new Error('A date has a least value');
    expect(() => withSetting('date', {}, least, 'soon')).toThrow('such as 17 Aug 2026');
  });

  test('exists in the schema of its type', () => {
    for (const type of FIELD_TYPES)
      for (const one of settingsOf(type.name, { pattern: 'x' })) {
        const known = type.settingsSchema.safeParse({
          ...(type.name === 'links' ? { table: 'quay_berths' } : {}),
          [one.key]: Symbol('no value'),
        });
        // A setting that the schema does not know is refused as such; one that it knows is refused for its value.
        expect(known.error?.issues[0]?.code, `${type.name}.${one.key}`).not.toBe('unrecognized_keys');
      }
  });

  test('a level of an option list has no choices of its own, and a message only with a pattern', () => {
    expect(settingsOf('choice', { level: { table: 'quay_faults', column: 'part' } })).toEqual([]);
    expect(settingsOf('text', {}).map((one) => one.key)).not.toContain('patternMessage');
    expect(settingsOf('text', { pattern: 'GS-.*' }).map((one) => one.key)).toContain('patternMessage');
  });
});
