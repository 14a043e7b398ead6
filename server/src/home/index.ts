export { homeRoutes } from './routes.ts';
