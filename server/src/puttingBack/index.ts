export { putBackRoutes } from './routes.ts';
