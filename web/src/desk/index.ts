import './desk.css';

export { DeskPage } from './DeskPage.tsx';
export { NewCabinetPage } from './NewCabinetPage.tsx';
