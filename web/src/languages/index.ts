export { beginOfficeLanguage, chooseOfficeLanguage, OFFICE_LANGUAGE } from './office.ts';
export { type OwnLanguage, ownLanguage, sayIn, sayInOwn, setOwnLanguage } from './reading.ts';
