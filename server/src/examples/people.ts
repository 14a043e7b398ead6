import { everyAction } from '@fiche/core/rights';
import type { Example } from './example.ts';

const PASSWORD = 'a heron on the slipway';
const porter = {
  label: 'Porter',
  rights: [],
  history: 'own',
  others: everyAction('none'),
  tables: { quay_stays: { ...everyAction('all'), export: 'none', fields: { note: 'hidden' } } },
};

/** Accounts, sessions, second factors, roles, tokens and the outbox. */
export const PEOPLE_EXAMPLES: readonly Example[] = [
  { route: 'GET /api/health', by: 'nobody' },
  { route: 'GET /api/ready', by: 'nobody' },
  {
    route: 'POST /api/session',
    by: 'nobody',
    body: { login: 'harbourmaster', password: 'tern-cove-17' },
  },
  { route: 'GET /api/session' },
  { route: 'GET /api/languages' },
  { route: 'GET /api/account', keeps: { '<session>': 'sessions.0.id' } },
  { route: 'DELETE /api/account/sessions/{session}', params: { session: '<session>' } },
  { route: 'DELETE /api/account/sessions' },
  {
    route: 'PATCH /api/account',
    body: { displayName: 'Ailsa Marwick', email: 'ailsa.marwick@gannet.example', mailed: ['assigned'] },
  },
  { route: 'POST /api/account/second-factor', body: { password: 'tern-cove-17' }, keeps: { '<secret>': 'secret' } },
  { route: 'PUT /api/account/second-factor', body: { code: '<code>' } },
  { route: 'DELETE /api/account/second-factor', body: { password: 'tern-cove-17' } },
  { route: 'POST /api/account/second-factor', body: { password: 'tern-cove-17' }, keeps: { '<secret>': 'secret' } },
  { route: 'PUT /api/account/second-factor', body: { code: '<code>' } },
  { route: 'DELETE /api/cabinets/{cabinet}/accounts/{login}/second-factor', params: { login: 'harbourmaster' } },
  { route: 'GET /api/cabinets/{cabinet}/operation' },
  { route: 'GET /api/cabinets/{cabinet}/accounts' },
  {
    route: 'POST /api/cabinets/{cabinet}/accounts',
    body: { login: 'ebba.rush', displayName: 'Ebba Rush', role: 'clerk', email: 'ebba.rush@gannet.example' },
  },
  {
    route: 'POST /api/cabinets/{cabinet}/accounts/{login}/link',
    params: { login: 'ebba.rush' },
    body: {},
    keeps: { '<link>': 'token' },
  },
  { route: 'POST /api/password-link', by: 'nobody', body: { token: '<link>' } },
  { route: 'POST /api/password', by: 'nobody', body: { token: '<link>', password: PASSWORD } },
  {
    route: 'PATCH /api/cabinets/{cabinet}/accounts/{login}',
    params: { login: 'ebba.rush' },
    body: { role: 'auditor' },
  },
  { route: 'DELETE /api/cabinets/{cabinet}/accounts/{login}', params: { login: 'ebba.rush' } },
  { route: 'PUT /api/cabinets/{cabinet}/accounts/{login}', params: { login: 'ebba.rush' }, body: { role: 'clerk' } },
  { route: 'GET /api/cabinets/{cabinet}/messages', query: { state: 'kept' } },
  { route: 'POST /api/cabinets/{cabinet}/messages/{message}/retry', params: { message: '<message>' }, body: {} },
  { route: 'GET /api/cabinets/{cabinet}/roles' },
  { route: 'POST /api/cabinets/{cabinet}/roles', body: { label: 'Porter', from: 'clerk' } },
  {
    route: 'PUT /api/cabinets/{cabinet}/roles/{role}',
    params: { role: 'porter' },
    body: { definition: porter, revision: 1 },
  },
  {
    route: 'POST /api/cabinets/{cabinet}/roles/{role}/replay',
    params: { role: 'porter' },
    body: { definition: porter },
  },
  { route: 'PUT /api/session/seen-as', body: { cabinet: 'quay', role: 'porter' } },
  { route: 'DELETE /api/session/seen-as' },
  { route: 'DELETE /api/cabinets/{cabinet}/roles/{role}', params: { role: 'porter' } },
  {
    route: 'POST /api/cabinets/{cabinet}/tokens',
    body: { name: 'gauge-reader', role: 'clerk', tables: ['quay_stays'], until: '2027-12-31' },
    keeps: { '<token>': 'id' },
  },
  { route: 'GET /api/cabinets/{cabinet}/tokens' },
  { route: 'DELETE /api/cabinets/{cabinet}/tokens/{token}', params: { token: '<token>' } },
  { route: 'PUT /api/account/password', body: { present: 'tern-cove-17', password: PASSWORD } },
  { route: 'DELETE /api/session' },
];

/** The first administrator of an office that has none. */
export const FIRST_EXAMPLES: readonly Example[] = [
  {
    route: 'POST /api/first-administrator',
    by: 'nobody',
    body: {
      token: '<first key>',
      login: 'harbourmaster',
      displayName: 'Ailsa Marwick',
      password: PASSWORD,
      cabinet: 'Gannet Sound',
      office: { timeZone: 'Europe/London', locale: 'en-GB', currency: 'EUR' },
    },
  },
];
