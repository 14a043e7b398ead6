import { describe, expect, test } from 'vitest';
import {
  FIELD_TYPES,
  holdsAddress,
  holdsFiles,
  isIndexed,
  isLinking,
  isNumbered,
  isOfWords,
  isOneValue,
  isSeveral,
  linksOne,
  linksSeveral,
  namesPeople,
  TYPE_GROUPS,
  takesWord,
  takesWords,
} from './index.ts';

describe.each(FIELD_TYPES.map((type) => [type.name, type] as const))('%s', (_name, type) => {
  test('is offered under a heading that there is', () => {
    expect(TYPE_GROUPS).toContain(type.group);
  });

  test('begins with settings that it takes', () => {
    const settings = { ...(type.starting?.('EUR') ?? {}), ...(type.links ? { table: 'quay_berths' } : {}) };
    expect(type.settingsSchema.safeParse(settings)).toMatchObject({ success: true });
  });

  test('can hold what a new record may start with', () => {
    for (const moment of Object.values(type.moments ?? {})) {
      const value = moment('2027-03-01T10:15');
      expect(type.accept(value, {})).toEqual({ ok: true, value });
    }
  });

  test('says what its settings add to its name as the rest of a phrase', () => {
    const said = type.settingWords?.(type.settingsSchema.parse(type.starting?.('EUR') ?? {}));
    expect(said ?? ', nothing').toMatch(/^(, | )\S/);
  });

  test('says what to do where it is required', () => {
    expect(type.whenBlank?.() ?? 'Fill it in.').toMatch(/^[A-Z].*\.$/);
  });

  test('has each trait as one of the two it can be', () => {
    expect(isLinking(named(type.name))).toBe(linksOne(named(type.name)) || linksSeveral(named(type.name)));
    expect(isOfWords(named(type.name))).toBe(takesWord(named(type.name)) || takesWords(named(type.name)));
    expect(isOneValue(named(type.name))).toBe(!isSeveral(named(type.name)) && !isLinking(named(type.name)));
    if (isSeveral(named(type.name))) expect(isIndexed(named(type.name))).toBe(false);
  });
});

const named = (type: string): { type: string } => ({ type });
const those = (has: (field: { type: string }) => boolean): string[] =>
  FIELD_TYPES.map(({ name }) => name).filter((name) => has(named(name)));

test('which types have what', () => {
  expect(those(isLinking)).toEqual(['link', 'links']);
  expect(those(isOfWords)).toEqual(['choice', 'choices']);
  expect(those(isSeveral)).toEqual(['choices', 'links', 'attachments']);
  expect(those(holdsFiles)).toEqual(['attachments']);
  expect(those(namesPeople)).toEqual(['account']);
  expect(those(holdsAddress)).toEqual(['email']);
  expect(those(isNumbered)).toEqual(['sequence']);
  expect(those((field) => !isIndexed(field))).toEqual(['longText', 'choices', 'links', 'attachments']);
});

test('no field has no trait', () => {
  for (const has of [linksOne, linksSeveral, isLinking, isOfWords, isSeveral, isOneValue, isIndexed, holdsFiles])
    expect(has(undefined)).toBe(false);
});
