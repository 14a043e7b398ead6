export { ChangeProgress, recordCount } from './ChangeProgress.tsx';
export { ChangeSheet } from './ChangeSheet.tsx';
export { PutBack, PutBackSheet } from './PutBack.tsx';
export { SelectionBar } from './SelectionBar.tsx';
export { useChangeWork } from './useChangeWork.ts';
