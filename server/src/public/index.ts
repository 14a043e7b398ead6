export { publicRoutes } from './routes.ts';
export { pageAddress, sitesOf } from './sites.ts';
