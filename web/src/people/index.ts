export { PeoplePage } from './PeoplePage.tsx';
