export {
  baseOf,
  type Catalogue,
  isRightToLeft,
  languageName,
  languageSchema,
  SPOKEN_LANGUAGES,
  translations,
} from './catalogues.ts';
export {
  ENGLISH,
  joinedWords,
  languageNow,
  ownWordsHolding,
  type Reader,
  readBy,
  type SaidValues,
  say,
  sayCount,
  sayOwn,
} from './say.ts';
