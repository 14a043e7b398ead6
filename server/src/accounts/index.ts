export { accountRoutes } from './routes.ts';
export { SAMPLE_ACCOUNTS, SAMPLE_PASSWORD } from './samples.ts';
export { accountsOf, addAccount, addMembership, addRole } from './store.ts';
