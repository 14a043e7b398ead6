export { FillPage } from './FillPage.tsx';
export { FormsPage } from './FormsPage.tsx';
export { HeldPage } from './HeldPage.tsx';
