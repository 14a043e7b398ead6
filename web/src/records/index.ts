import './records.css';

export { CardPage } from './CardPage.tsx';
export { RecordGrid } from './RecordGrid.tsx';
export { RecordPage } from './RecordPage.tsx';
export { RowsPage } from './RowsPage.tsx';
