export { PastBar } from './PastBar.tsx';
export { PastCard } from './PastCard.tsx';
export { PastTables } from './PastTables.tsx';
export { PutBackSave, type SaveId } from './PutBackSave.tsx';
export { usePast } from './usePast.ts';
