import { AsyncLocalStorage } from 'node:async_hooks';
import { ENGLISH, type Reader, setReader, translations } from '@fiche/core/languages';
import { currentOffice, type Office, overrideOffice } from '@fiche/core/office';
import { type PublicPage, pageLanguages, pageLocale } from '@fiche/core/pages';
import type { FastifyRequest } from 'fastify';
import Negotiator from 'negotiator';
import { type OfficeLanguages, officeLanguageOf, officeReader } from './office.ts';

/** Who reads what is said while a request is answered, and how the office writes for them. */
interface Reading {
  readonly reader: Reader;
  readonly office: Office;
}

const readings = new AsyncLocalStorage<Reading>();
setReader(() => readings.getStore()?.reader ?? ENGLISH);
overrideOffice((standing) => readings.getStore()?.office ?? standing);

/** The language of a page that suits a reader best, by an `Accept-Language` (RFC 9110); the page’s own where none does. */
export function languageFor(page: PublicPage, accepted: string | undefined): string {
  const offered = pageLanguages(page);
  const [own = 'en'] = offered;
  if (!accepted) return own;
  return new Negotiator({ headers: { 'accept-language': accepted } }).language(offered) ?? own;
}

/** Does something for whoever works in the office: what they are told is in the language of their screens. */
export async function readingOffice<T>(
  languages: OfficeLanguages,
  request: FastifyRequest,
  work: () => Promise<T>,
): Promise<T> {
  const reader = await officeReader(languages, officeLanguageOf(languages, request));
  return reader ? readings.run({ reader, office: currentOffice() }, work) : work();
}

/** Does something for whoever reads a page in a language: texts are said in it, numbers and dates written as the page does. */
export async function readingPage<T>(page: PublicPage, language: string, work: () => Promise<T>): Promise<T> {
  const office = currentOffice();
  const reader = { language, translated: await translations(language), words: page.translations?.[language] ?? {} };
  return readings.run({ reader, office: { ...office, locale: pageLocale(page, language, office.locale) } }, work);
}
