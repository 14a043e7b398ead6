export { announce, announceAdded, announceEnd, announcePeople, MANY } from './announce.ts';
export { eventRoutes } from './routes.ts';
