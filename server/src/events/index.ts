export { announce, announceAssigned, announceEnd } from './announce.ts';
export { eventRoutes } from './routes.ts';
