export { useRoutes } from './routes.ts';
