import { formatCount } from '../office/index.ts';

/** What stands in the places of a text, by their names. */
export type SaidValues = Readonly<Record<string, string | number>>;

/** The language of whoever reads what is said. */
export interface Reader {
  /** The language, as a BCP 47 tag: `en`, `fr`. */
  readonly language: string;
  /** The translation of an English text, for `count` of something where its words depend on that; undefined where there is none. */
  translated(english: string, count?: number): string | undefined;
  /** The builder’s words in this language, by the word that is kept. */
  readonly words: Readonly<Record<string, string>>;
}

export const ENGLISH: Reader = { language: 'en', translated: () => undefined, words: {} };

let readerNow = (): Reader => ENGLISH;

/** Says who reads: a browser page has one reader, a server one for each request. */
export function setReader(reader: () => Reader): void {
  readerNow = reader;
}

/** The language in which texts are said now, as a BCP 47 tag. */
export const languageNow = (): string => readerNow().language;

/** Fills the places of a text; a place without a value stays as it is. */
const withValues = (text: string, values: SaidValues): string =>
  text.replaceAll(/\{(\w+)\}/g, (place, name: string) => String(values[name] ?? place));

/**
 * A text in the language of its reader, its places filled. The English text is what catalogues know it by.
 *
 * @example
 * say('At least {limit}.', { limit: '12 m' }); // 'At least 12 m.', in German 'Mindestens 12 m.'
 */
export const say = (english: string, values: SaidValues = {}): string =>
  withValues(readerNow().translated(english) ?? english, values);

/**
 * Marks a text that is said where it is shown, by `say`: the label of a kind, say, in a list of kinds. Catalogues have it as well.
 *
 * @example
 * const LABELS = { see: sayLater('See') };
 * say(LABELS[right]);
 */
export const sayLater = <T extends string>(english: T): T => english;

/**
 * A text about so many of something, which a language may say in other words for one. Catalogues know it by `several`;
 * its place `{count}` is the number as the office writes it.
 *
 * @example
 * sayCount(2, 'one line', '{count} lines'); // '2 lines'
 */
export const sayCount = (count: number, one: string, several: string, values: SaidValues = {}): string =>
  withValues(readerNow().translated(several, count) ?? (count === 1 ? one : several), {
    count: formatCount(count),
    ...values,
  });

/** The translation of a text that a builder wrote; the text itself where there is none. */
export const textIn = (translations: Readonly<Record<string, string>>, text: string): string =>
  // A text can be called like something that every object has.
  (Object.hasOwn(translations, text) && translations[text]) || text;

/** A word of a choice in the language of its reader, where the builder has given one. */
export const sayOwn = (word: string): string => textIn(readerNow().words, word);

/** The words of choices whose translation holds a text, regardless of case; none where nothing was translated. */
export function ownWordsHolding(text: string): string[] {
  const sought = text.trim().toLowerCase();
  if (sought === '') return [];
  return Object.entries(readerNow().words).flatMap(([word, said]) =>
    said.toLowerCase().includes(sought) ? [word] : [],
  );
}

/** Several words as a list in the language of its reader: `Harbour and Pontoon`. */
export const joinedWords = (words: readonly string[]): string =>
  new Intl.ListFormat(languageNow(), { type: 'conjunction' }).format(words);
