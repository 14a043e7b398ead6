export { cabinetZip, fillCabinet } from './cabinet.ts';
export { exportRoutes } from './routes.ts';
