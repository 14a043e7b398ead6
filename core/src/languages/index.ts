export {
  baseOf,
  type Catalogue,
  isRightToLeft,
  languageName,
  languageSchema,
  OFFICE_LANGUAGE_COOKIE,
  SPOKEN_LANGUAGES,
  translations,
} from './catalogues.ts';
export {
  ENGLISH,
  joinedWords,
  languageNow,
  ownWordsHolding,
  type Reader,
  type SaidValues,
  say,
  sayCount,
  sayLater,
  sayOwn,
  setReader,
  textIn,
} from './say.ts';
