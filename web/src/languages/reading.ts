import { type Catalogue, ENGLISH, type Reader, setReader, translations } from '@fiche/core/languages';

/** The language of whoever works here: a page that is looked at before it is published is read in its own meanwhile. */
let own: Reader = ENGLISH;
let reader: Reader = own;
setReader(() => reader);

/** A language that ships: its catalogue knows which texts are those of public pages. */
const SHIPPED = 'fr';

/**
 * Says what stands on public pages in a language from now on, with the builder’s words of choices. Screens of the office stay in
 * their own around it.
 */
export async function sayIn(language: string, words: Reader['words']): Promise<void> {
  const translated = await translations(language);
  if (own === ENGLISH) {
    reader = { language, translated, words };
    return;
  }
  const ofPages = await translations(SHIPPED);
  const around = own;
  const either: Reader['translated'] = (text, count) =>
    (ofPages(text, count) === undefined ? around.translated : translated)(text, count);
  reader = { language, translated: either, words };
}

/** Says everything in the language of whoever works here again. */
export function sayInOwn(): void {
  reader = own;
}

/** A language of the office’s screens with its texts; English has none. */
export interface OwnLanguage {
  readonly language: string;
  readonly texts: Catalogue;
}
let ownTexts: OwnLanguage = { language: 'en', texts: {} };

/** What a worker is told, which says things to whoever works here: for `setOwnLanguage`. */
export const ownLanguage = (): OwnLanguage => ownTexts;

/** Says everything in a language from now on. */
export async function setOwnLanguage({ language, texts }: OwnLanguage): Promise<void> {
  ownTexts = { language, texts };
  if (language === 'en') return;
  own = { language, translated: await translations(language, texts), words: {} };
  reader = own;
}
