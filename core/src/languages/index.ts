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
  type SaidValues,
  say,
  sayCount,
  sayOwn,
  setReader,
  textIn,
} from './say.ts';
