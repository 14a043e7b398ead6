export { ENGLISH_ONLY, type OfficeLanguages, officeLanguageOf, readOfficeLanguages } from './office.ts';
export { languageFor, readingOffice, readingPage } from './reading.ts';
