export { ChangeSheet } from './ChangeSheet.tsx';
export { PutBackSheet } from './PutBack.tsx';
export { SelectionBar } from './SelectionBar.tsx';
