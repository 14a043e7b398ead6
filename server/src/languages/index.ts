export { languageFor, readingPage } from './reading.ts';
