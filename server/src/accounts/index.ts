export { lacksAdministrator, makeFirstAdministrator, offerFirstKey } from './firstAdministrator.ts';
export { peopleOf } from './people.ts';
export { accountRoutes } from './routes.ts';
export { SAMPLE_ACCOUNTS, SAMPLE_PASSWORD } from './samples.ts';
export { accountsOf, addAccount, addMembership } from './store.ts';
