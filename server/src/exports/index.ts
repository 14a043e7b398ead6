export { cabinetZip } from './cabinetFile.ts';
export { fillCabinet } from './fillCabinet.ts';
export { forgetExports } from './orders.ts';
export { isTextual, plainText } from './pages.ts';
export { writeFile } from './recordsFile.ts';
export { exportRoutes } from './routes.ts';
