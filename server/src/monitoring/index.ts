export { monitoringRoutes } from './routes.ts';
export { aggregateWorkerMetrics } from './workerMetrics.ts';
