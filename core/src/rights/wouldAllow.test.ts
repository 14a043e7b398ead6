import { expect, test } from 'vitest';
import { all, is } from '../conditions/index.ts';
import { testField } from '../fixtures/testField.ts';
import type { TableDefinition } from '../tables/index.ts';
import { everyAction, FIRST_ROLES, type RoleDefinition, type TableRights } from './role.ts';
import { wouldAllow } from './wouldAllow.ts';

const stays: TableDefinition = {
  id: 'quay_stays',
  cabinet: 'quay',
  label: 'Stays',
  description: '',
  kind: 'records',
  title: 'note',
  fields: [testField('note', 'Note', 'text'), testField('fee', 'Fee', 'text')],
  retired: [],
  card: [],
  rules: [],
  constraints: [],
  revision: 1,
};
const clerk = FIRST_ROLES.find((one) => one.id === 'clerk') as RoleDefinition;
const with_ = (rights: Partial<TableRights>): RoleDefinition => ({
  ...clerk,
  tables: { quay_stays: { ...everyAction('all'), ...rights } },
});
const changed = { kind: 'change', fields: ['note', 'fee'], byImport: false } as const;

test('what a role allows for every record is allowed again', () => {
  expect(wouldAllow(clerk, stays, changed)).toEqual({ verdict: 'yes' });
});

test('a right that is gone is said, and so is each field that the role no longer writes', () => {
  expect(wouldAllow(with_({ change: 'none' }), stays, changed)).toEqual({
    refusals: ['The role may not change records of Stays.'],
  });
  expect(wouldAllow(with_({ fields: { fee: 'readOnly', note: 'hidden' } }), stays, changed)).toEqual({
    refusals: ['Note is hidden.', 'Fee is read-only.'],
  });
  expect(wouldAllow(with_({ archive: 'none' }), stays, { ...changed, kind: 'restore', fields: [] })).toEqual({
    refusals: ['The role may not restore records of Stays.'],
  });
});

test('a right to some records leaves the condition, and an import needs its own right as well', () => {
  const own = all(is({ kind: 'column', path: 'note' }, { kind: 'constant', value: 'near' }));
  expect(wouldAllow(with_({ change: own }), stays, changed)).toEqual({ verdict: own });
  const imported = { kind: 'add', fields: ['note'], byImport: true } as const;
  expect(wouldAllow(with_({}), stays, imported)).toEqual({ verdict: 'yes' });
  expect(wouldAllow(with_({ import: 'none' }), stays, imported)).toMatchObject({
    refusals: ['The role may not add records of Stays.'],
  });
});
