export { PastBar } from './PastBar.tsx';
export { PastCard } from './PastCard.tsx';
export { PutBackSave, type SaveId } from './PutBackSave.tsx';
export { usePast } from './usePast.ts';
