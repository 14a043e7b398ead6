export { attachmentNamed } from './attachmentNamed.ts';
export { cabinetZip } from './cabinetFile.ts';
export { fillCabinet } from './fillCabinet.ts';
export { exportRoutes } from './routes.ts';
export { csvLines, guards, plainText } from './table.ts';
