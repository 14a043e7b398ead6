export { useRoutes } from './routes.ts';
export { usedWorld } from './usedWorld.ts';
