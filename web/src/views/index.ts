export { AskedOfView } from './AskedValues.tsx';
export { RecordsTab } from './RecordsTab.tsx';
export { useViews } from './useViews.ts';
export { ViewRecords } from './ViewRecords.tsx';
