export { AskedOfView } from './AskedValues.tsx';
export { RecordsTab } from './RecordsTab.tsx';
export { useHome } from './useHome.ts';
export { useViews } from './useViews.ts';
export { ViewRecords } from './ViewRecords.tsx';
export { addressOfRecords } from './whereInAddress.ts';
