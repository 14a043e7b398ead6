import './imports.css';

export { ImportPage } from './ImportPage.tsx';
