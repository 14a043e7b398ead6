export { FillCabinet } from './FillCabinet.tsx';
export { HomePage } from './HomePage.tsx';
export { NewCabinetPage } from './NewCabinetPage.tsx';
