export { tableRoutes } from './routes.ts';
export { addField, changeField, changeTable, createCabinet, createTable } from './store.ts';
