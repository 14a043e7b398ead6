import { baseOf } from '../languages/index.ts';
import type { PublicPage } from './settings.ts';

/** The languages in which a page can be read, as BCP 47 tags: its own first. */
export function pageLanguages({ language = 'en', translations = {} }: PublicPage): string[] {
  return [...new Set([language, ...Object.keys(translations)])];
}

/**
 * How a page that is read in a language writes numbers and dates: as the builder says, else as the office does where it has
 * the same language or the page names none, else as where the language is spoken most.
 */
export function pageLocale({ language: own, locale }: PublicPage, language: string, ofOffice: string): string {
  if (locale !== undefined) return locale;
  const asOffice = baseOf(language) === baseOf(ofOffice) || (own === undefined && language === 'en');
  if (asOffice) return ofOffice;
  const { language: base, region } = new Intl.Locale(language).maximize();
  return region === undefined ? base : `${base}-${region}`;
}
