export { figuresOf } from './figures.ts';
export { chartRoutes } from './routes.ts';
