import { z } from 'zod';
import type { Reader } from './say.ts';

/** A language as a BCP 47 tag of language and perhaps region: `fr`, `pt-BR`. */
export const languageSchema = z
  .string()
  .regex(/^[a-z]{2,3}(-[A-Z][a-z]{3})?(-([A-Z]{2}|\d{3}))?$/, 'This is not a language tag such as fr or pt-BR.');

/** A catalogue: translations by English text, with `_one` and `_other` behind texts whose words depend on a number (i18next JSON v4). */
export type Catalogue = Readonly<Record<string, string>>;

/** The catalogues that ship besides English, which is what the program says. Another language is a file and a line here. */
const CATALOGUES: Readonly<Record<string, () => Promise<{ default: Catalogue }>>> = {
  de: () => import('./catalogues/de.json', { with: { type: 'json' } }),
  es: () => import('./catalogues/es.json', { with: { type: 'json' } }),
  fr: () => import('./catalogues/fr.json', { with: { type: 'json' } }),
};

/** The languages in which the program itself speaks. */
export const SPOKEN_LANGUAGES: readonly string[] = ['en', ...Object.keys(CATALOGUES)];

/**
 * What a language is called, in English or in another language.
 *
 * @example
 * languageName('fr'); // 'French'
 * languageName('fr', 'fr'); // 'français'
 */
export const languageName = (language: string, said = 'en'): string =>
  new Intl.DisplayNames([said], { type: 'language' }).of(language) ?? language;

/** The part of a BCP 47 tag that names the language: `de` of `de-AT`. */
export const baseOf = (language: string): string => language.split('-')[0]?.toLowerCase() ?? '';

/** Whether a language is written from right to left: by its script, after Unicode’s likely subtags. */
export const isRightToLeft = (language: string): boolean =>
  /^(Arab|Hebr|Thaa|Syrc|Nkoo|Adlm|Rohg)$/.test(new Intl.Locale(language).maximize().script ?? '');

const known = new Map<string, Promise<Reader['translated']>>();

/** The cookie that keeps which language a browser wants the office’s screens in. */
export const OFFICE_LANGUAGE_COOKIE = 'fiche_language';

/**
 * The translations of the program’s own texts into a language; English where it has no catalogue. `office` has the texts of the
 * office’s screens, which no catalogue has that ships.
 */
export function translations(language: string, office: Catalogue = {}): Promise<Reader['translated']> {
  const base = baseOf(language);
  if (Object.keys(office).length > 0) return load(base, office);
  const before = known.get(base);
  if (before) return before;
  const made = load(base, office);
  known.set(base, made);
  return made;
}

async function load(language: string, office: Catalogue): Promise<Reader['translated']> {
  const catalogue = CATALOGUES[language];
  if (!catalogue && Object.keys(office).length === 0) return () => undefined;
  const [shipped, { createInstance }] = await Promise.all([catalogue?.(), import('i18next')]);
  const texts = { ...shipped?.default, ...office };
  const i18n = createInstance();
  await i18n.init({
    lng: language,
    resources: { [language]: { translation: texts } },
    // Texts are their own keys, with points and colons in them; their places are filled by `say`.
    keySeparator: false,
    nsSeparator: false,
    parseMissingKeyHandler: () => '',
  });
  const text = (key: string, count?: number): string =>
    i18n.t(key, { skipInterpolation: true, ...(count === undefined ? {} : { count }) });
  // Some languages have words of their own for millions, which a catalogue may leave out.
  return (english, count) => text(english, count) || (count !== undefined && text(`${english}_other`)) || undefined;
}
