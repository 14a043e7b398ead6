export { RipplesTab } from './RipplesTab.tsx';
