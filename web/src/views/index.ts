export { RecordsTab } from './RecordsTab.tsx';
