import './studio.css';

export { StudioPage } from './StudioPage.tsx';
