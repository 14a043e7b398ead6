import type { OfficeLanguage } from '@fiche/core/api';
import { isRightToLeft, OFFICE_LANGUAGE_COOKIE } from '@fiche/core/languages';
import { setOwnLanguage } from './reading.ts';

/** The address of the texts of the office’s screens in the language of this browser. */
export const OFFICE_LANGUAGE = '/api/languages';

const YEAR_S = 365 * 24 * 3_600;

/** The language that was chosen in this browser for the office’s screens; undefined before anybody has. */
const chosenLanguage = (): string | undefined =>
  new RegExp(`(?:^|; )${OFFICE_LANGUAGE_COOKIE}=([\\w-]+)`).exec(document.cookie)?.[1];

/** Keeps a language for the office’s screens in this browser; it is read from the next page that is loaded. */
export function chooseOfficeLanguage(language: string): void {
  // biome-ignore lint/suspicious/noDocumentCookie: the store of cookies is not in every browser, and not on plain HTTP
  document.cookie = `${OFFICE_LANGUAGE_COOKIE}=${language}; path=/; max-age=${YEAR_S}; samesite=strict`;
}

/**
 * Says everything in the language of whoever works here: the one they chose in this browser, else the first that the browser
 * names of those that the office has. Before any screen is loaded, as screens keep texts of their own. In English where nothing
 * else can be had.
 */
export async function beginOfficeLanguage(): Promise<void> {
  if (/^en\b/.test(chosenLanguage() ?? navigator.language)) return;
  try {
    const answer = await fetch(OFFICE_LANGUAGE);
    if (!answer.ok) return;
    const { language, texts } = (await answer.json()) as OfficeLanguage;
    if (language === 'en') return;
    await setOwnLanguage({ language, texts });
    document.documentElement.lang = language;
    document.documentElement.dir = isRightToLeft(language) ? 'rtl' : 'ltr';
  } catch {
    // English does as well.
  }
}
