export { PastBar } from './PastBar.tsx';
export { PastCard } from './PastCard.tsx';
export { usePast } from './usePast.ts';
