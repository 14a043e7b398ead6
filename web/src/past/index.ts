export { PastBar } from './PastBar.tsx';
export { PastCard } from './PastCard.tsx';
export { PutBackSave } from './PutBackSave.tsx';
export { usePast } from './usePast.ts';
