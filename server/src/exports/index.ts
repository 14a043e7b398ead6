export { cabinetZip } from './cabinetFile.ts';
export { fillCabinet } from './fillCabinet.ts';
export { exportRoutes } from './routes.ts';
