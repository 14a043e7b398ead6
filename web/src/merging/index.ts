export { DuplicatesPage } from './DuplicatesPage.tsx';
