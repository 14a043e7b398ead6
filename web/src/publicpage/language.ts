import type { OpenPage, UnavailablePage } from '@fiche/core/api';
import { isRightToLeft } from '@fiche/core/languages';
import { sayIn } from '../languages/index.ts';

/** The part of a page’s address that names its language. */
const PARAMETER = 'lang';

/** The language that an address names; undefined where it names none. */
export const languageOf = (search: string): string | undefined => {
  const named = new URLSearchParams(search).get(PARAMETER);
  return named !== null && /^[a-z]{2,3}(-[a-z0-9]{2,8}){0,2}$/i.test(named) ? named : undefined;
};

/** Says everything in the language of a page from now on, and tells the browser which it is. */
export async function speak(page: OpenPage | UnavailablePage): Promise<void> {
  const { language } = page;
  await sayIn(language, 'choiceWords' in page ? page.choiceWords : {});
  document.documentElement.lang = language;
  document.documentElement.dir = isRightToLeft(language) ? 'rtl' : 'ltr';
}

/** Names the language in the address, so that whoever is sent it reads the page in that language. */
export function nameLanguage(language: string): void {
  const url = new URL(window.location.href);
  url.searchParams.set(PARAMETER, language);
  window.history.replaceState(window.history.state, '', url);
}
