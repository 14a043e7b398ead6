export { PeoplePage } from './PeoplePage.tsx';
export { RolePage } from './RolePage.tsx';
