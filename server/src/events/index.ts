export { announce, announceEnd } from './announce.ts';
export { eventRoutes } from './routes.ts';
