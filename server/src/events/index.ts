export { announce, announceEnd, announcePeople } from './announce.ts';
export { eventRoutes } from './routes.ts';
