export { CardLayout } from './CardLayout.tsx';
export { TablePage } from './TablePage.tsx';
export { TableRules } from './TableRules.tsx';
export { TablesPage } from './TablesPage.tsx';
export { Trial } from './Trial.tsx';
