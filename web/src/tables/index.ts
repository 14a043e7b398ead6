export { TablePage } from './TablePage.tsx';
export { TablesPage } from './TablesPage.tsx';
