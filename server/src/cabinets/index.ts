export { cabinetRoutes } from './routes.ts';
