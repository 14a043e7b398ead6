import './desk.css';

export { DeskPage } from './DeskPage.tsx';
