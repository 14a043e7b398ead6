export { announce } from './announce.ts';
export { eventRoutes } from './routes.ts';
