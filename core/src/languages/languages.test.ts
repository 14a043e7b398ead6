import { afterEach, expect, test } from 'vitest';
import { fieldType } from '../fields/index.ts';
import {
  ENGLISH,
  isRightToLeft,
  joinedWords,
  languageName,
  ownWordsHolding,
  type Reader,
  SPOKEN_LANGUAGES,
  say,
  sayCount,
  sayOwn,
  setReader,
  translations,
} from './index.ts';

const readIn = async (language: string, words: Reader['words'] = {}): Promise<void> => {
  const reader = { language, translated: await translations(language), words };
  setReader(() => reader);
};
afterEach(() => setReader(() => ENGLISH));

test('a text is said in the language of its reader, its places filled as they are', async () => {
  expect(say('At least {limit}.', { limit: '12 m' })).toBe('At least 12 m.');
  await readIn('de');
  expect(say('At least {limit}.', { limit: '12 m' })).toBe('Mindestens 12 m.');
  // What stands in a place is no text to be translated, and has no places of its own.
  expect(say('No choice is called “{text}”. Choose one of the list.', { text: '{text} $t(Send)' })).toContain(
    '„{text} $t(Send)“',
  );
  expect(say('A text that no catalogue has.')).toBe('A text that no catalogue has.');
});

test('one and several are told apart as each language does', async () => {
  expect(sayCount(1, 'one line', '{count} lines')).toBe('one line');
  expect(sayCount(0, 'one line', '{count} lines')).toBe('0 lines');
  await readIn('fr');
  // French counts nothing like one.
  expect(sayCount(0, '{count} line', '{count} lines')).toBe('0 ligne');
  expect(sayCount(2, '{count} line', '{count} lines')).toBe('2 lignes');
  await readIn('es');
  expect(sayCount(1_000_000, '{count} line', '{count} lines')).toBe('1,000,000 líneas');
});

test.each(SPOKEN_LANGUAGES)('in %s, what a field shows of a yes or a choice is read back', async (language) => {
  await readIn(language, { Lamp: 'Lampe à pied' });
  const yesNo = fieldType('yesNo');
  for (const value of [true, false]) expect(yesNo.parse(yesNo.format(value, {}), {})).toEqual({ ok: true, value });
  const settings = { choices: ['Rope', 'Lamp'] };
  const choice = fieldType('choice');
  expect(choice.format('Lamp', settings)).toBe('Lampe à pied');
  expect(choice.parse(choice.format('Lamp', settings), settings)).toEqual({ ok: true, value: 'Lamp' });
});

test('a word that is called like something that every object has is itself', async () => {
  await readIn('fr', { Rope: 'Cordage' });
  for (const word of ['constructor', 'toString', '__proto__', 'hasOwnProperty']) expect(sayOwn(word)).toBe(word);
});

test('words of a list are found by their translation', async () => {
  await readIn('fr', { Rope: 'Cordage', Lamp: 'Lampe' });
  expect(ownWordsHolding(' CORD ')).toEqual(['Rope']);
  expect(ownWordsHolding('')).toEqual([]);
});

test('a language has a name, a direction and its own way to join words', async () => {
  expect(languageName('fr')).toBe('French');
  expect(languageName('de', 'de')).toBe('Deutsch');
  expect(['ar', 'he', 'fr', 'ur'].map(isRightToLeft)).toEqual([true, true, false, true]);
  await readIn('de');
  expect(joinedWords(['Hafen', 'Steg'])).toBe('Hafen und Steg');
});

test('a language without a catalogue is said in English', async () => {
  await readIn('ar', { Rope: 'حبل' });
  expect(say('Send')).toBe('Send');
  expect(sayCount(2, 'one line', '{count} lines')).toBe('2 lines');
});
