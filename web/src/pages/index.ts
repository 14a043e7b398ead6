export { AnswersPage } from './AnswersPage.tsx';
export { PageSettings } from './PageSettings.tsx';
