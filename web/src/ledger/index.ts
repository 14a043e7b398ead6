import './ledger.css';

export { LedgerPage } from './LedgerPage.tsx';
