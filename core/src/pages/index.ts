export { CONFIRMATION_PLACES, type ConfirmationWords, confirmationText } from './confirmation.ts';
export { pageLanguages, pageLocale } from './language.ts';
export { isCorrectable, type Unavailable, unavailableAt, unavailableWords } from './opening.ts';
export {
  MOST_ANSWERS,
  MOST_DAYS_KEPT,
  MOST_LANGUAGES,
  PAGE_STYLE_WORDS,
  PAGE_STYLES,
  type PageCode,
  type PageWho,
  type PageWords,
  type PublicPage,
  publicPageSchema,
  sameCode,
} from './settings.ts';
export { pageWords, translationDifferences } from './words.ts';
