export { FormEditor } from './FormEditor.tsx';
