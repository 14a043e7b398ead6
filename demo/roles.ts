import { randomBytes } from 'node:crypto';
import type { Group } from '@fiche/core/conditions';
import { everyAction, FIRST_ROLES, type RoleDefinition } from '@fiche/core/rights';
import { tokenHash } from '@fiche/server/access/index';
import type { Transaction } from '@fiche/server/database/index';
import { addRole, findRole, writeRole } from '@fiche/server/definitions/index';

const clerk = FIRST_ROLES.find((one) => one.id === 'clerk');

/** Stays that began in the last 30 days, or are still to come. */
const RECENT: Group = {
  kind: 'group',
  match: 'all',
  of: [
    {
      kind: 'compare',
      left: { kind: 'column', path: 'arrival' },
      operator: 'atLeast',
      right: { kind: 'today', days: -30, of: 'dateTime' },
    },
  ],
};

const NIGHT_CLERK: Partial<RoleDefinition> = {
  label: 'Night clerk',
  tables: {
    gannet_stays: { ...everyAction('all'), see: RECENT },
    gannet_owners: { ...everyAction('all'), fields: { e_mail: 'hidden', phone: 'hidden' } },
    gannet_dues_ledger: everyAction('none'),
  },
};

const GAUGE: RoleDefinition = {
  label: 'Gauge',
  rights: [],
  history: 'none',
  secondFactor: false,
  others: everyAction('none'),
  tables: { gannet_tide_readings: { ...everyAction('none'), see: 'own', add: 'all' } },
  closedForms: [],
};

/** The roles of Gannet Sound: clerks read their own histories, the night clerk sees less, a gauge writes its readings. */
export async function addSampleRoles(owner: Transaction): Promise<void> {
  const before = await findRole(owner, 'gannet', 'clerk');
  if (!clerk || !before) throw new Error('The cabinet has no clerk');
  const { id: _id, revision: _revision, ...definition } = clerk;
  // Nobody writes to the Dues ledger: a ripple does.
  const ledger = { gannet_dues_ledger: { ...everyAction('none'), see: 'all' as const, export: 'all' as const } };
  const own = { ...definition, history: 'own' as const, tables: ledger };
  await writeRole(owner, 'gannet', { ...before, ...own });
  await addRole(owner, 'gannet', 'night_clerk', { ...own, ...NIGHT_CLERK });
  await addRole(owner, 'gannet', 'gauge', GAUGE);
}

/** The token of the tide gauge, under whose name its readings stand. Nobody knows its secret: one that works is made on the page of people. */
export async function addGaugeToken(owner: Transaction): Promise<void> {
  await owner('fiche.token').insert({
    name: 'gauge-reader',
    cabinet: 'gannet',
    role: 'gauge',
    tables: ['gannet_tide_readings'],
    token_hash: tokenHash(randomBytes(24).toString('base64url')),
    made_by: 'harbourmaster',
  });
}
