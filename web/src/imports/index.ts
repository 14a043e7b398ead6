export { ImportPage } from './ImportPage.tsx';
