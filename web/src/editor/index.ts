import './editor.css';

export { FormEditor } from './FormEditor.tsx';
