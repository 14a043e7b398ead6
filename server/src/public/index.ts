export { publicRoutes } from './routes.ts';
