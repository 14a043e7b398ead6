import { expect, test } from 'vitest';
import { stayForm, tables } from '../entry/fixtures/harbour.ts';
import type { PublicPage } from '../pages/index.ts';
import { choiceWords, type DefinedForm, differences, textsOf, withTexts } from './index.ts';

const page: PublicPage = {
  slug: 'arrival',
  intro: 'Welcome to the quay.',
  thanks: 'Thank you.',
  disclosed: [],
  consent: 'You may keep this.',
  words: { send: 'Tell the office' },
  confirmation: { to: 'e_mail', subject: 'Your stay', text: 'It is there.' },
};
const definition: DefinedForm = { ...stayForm().definition, page };
const form = { definition, tables };
const marked = (text: string): string => `«${text}»`;

test('every text that a page offers to be translated is put in another’s place, once, and nothing else is', () => {
  const texts = textsOf(form).filter(({ kind }) => kind !== 'choice');
  expect(texts.map(({ text }) => text)).toEqual(
    expect.arrayContaining([
      ...['Welcome to the quay.', 'Thank you.', 'You may keep this.', 'Tell the office', 'Your stay'],
    ]),
  );
  const changed = textsOf(withTexts(form, marked)).filter(({ kind }) => kind !== 'choice');
  expect(changed).toEqual(texts.map(({ text, kind }) => ({ text: marked(text), kind })));
  // Without translations it is the same form.
  expect(withTexts(form, (text) => text)).toEqual(form);
});

test('what is stored and compared stays: ids, choices, settings', () => {
  const { definition: after } = withTexts(form, marked);
  expect(after.table).toBe(definition.table);
  expect(after.page?.slug).toBe('arrival');
  expect(after.page?.confirmation?.to).toBe('e_mail');
  const ids = (one: DefinedForm) =>
    one.sections.flatMap((section) => section.items.map((item) => ('field' in item ? item.field : item.kind)));
  expect(ids(after)).toEqual(ids(definition));
  const choices = textsOf(form).filter(({ kind }) => kind === 'choice');
  expect(textsOf({ ...withTexts(form, marked) }).filter(({ kind }) => kind === 'choice')).toEqual(choices);
});

test('a word of a choice that is a label as well is said in both places', () => {
  const [label] = textsOf(form).filter(({ kind }) => kind === 'label');
  const translated = { ...page, translations: { fr: { [label?.text ?? '']: 'Le mot', 'Thank you.': 'Merci.' } } };
  expect(choiceWords({ definition: { ...definition, page: translated }, tables }, 'fr')).toEqual({
    [label?.text ?? '']: 'Le mot',
  });
});

test('what a rule that the database holds says is translated, too', () => {
  const [id, table] = [...tables].find(([one]) => one === definition.table) ?? [];
  if (id === undefined || !table) throw new Error('No table');
  const rule = { kind: 'unique', id: 'once', fields: [table.fields[0]?.id ?? ''], message: 'There is one already.' };
  const held = new Map([...tables, [id, { ...table, constraints: [rule as never] }]]);
  expect(textsOf({ definition, tables: held })).toContainEqual({ text: 'There is one already.', kind: 'rule' });
  const after = withTexts({ definition, tables: held }, marked).tables.get(id);
  expect(after?.constraints[0]?.message).toBe('«There is one already.»');
});

test('words of choices are told apart from other texts of a language', () => {
  const translated = { ...page, translations: { fr: { 'Thank you.': 'Merci.', Rope: 'Cordage', Lamp: '' } } };
  expect(choiceWords({ definition: { ...definition, page: translated }, tables }, 'fr')).toEqual({ Rope: 'Cordage' });
  expect(choiceWords(form, 'fr')).toEqual({});
});

test('what changed in a language is told text by text, a new language in one sentence', () => {
  const with_ = (translations: PublicPage['translations']): DefinedForm => ({
    ...definition,
    page: { ...page, translations },
  });
  const words = (before: DefinedForm, after: DefinedForm) => differences(before, after, tables).map((one) => one.words);
  expect(words(definition, with_({ fr: { Rope: 'Cordage' } }))).toEqual(['Its public page now: Can be read in French']);
  expect(words(with_({ fr: { Rope: 'Corde', Lamp: 'Lampe' } }), with_({ fr: { Rope: 'Cordage' } }))).toEqual([
    '“Rope” is now “Cordage” in French',
    '“Lamp” is no longer given in French',
  ]);
});
