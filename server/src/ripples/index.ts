export { hasRipples } from './prepared.ts';
export { rippleRoutes } from './routes.ts';
export { type Saver, savingRecords, withRipples } from './run.ts';
