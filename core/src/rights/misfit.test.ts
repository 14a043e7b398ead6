import { describe, expect, test } from 'vitest';
import { all, type Condition, is, type Operand } from '../conditions/index.ts';
import { fieldOf, tableOf } from '../fixtures/tables.ts';
import { conditionToSql } from '../queries/index.ts';
import type { TableDefinition } from '../tables/index.ts';
import { everyAction, NO_ROLE, type Role, resolveRight, roleProblems, tablesSeenBy } from './index.ts';

const stays = tableOf(
  'quay_stays',
  [fieldOf('number', 'text'), fieldOf('berth', 'link', { settings: { table: 'quay_berths' } })],
  { label: 'Stays', title: '{number} at {berth}' },
);
const berths = tableOf('quay_berths', [fieldOf('letter', 'text')], { title: 'letter' });
const tables = new Map<string, TableDefinition>([stays, berths].map((one) => [one.id, one]));
const column = (path: string): Operand => ({ kind: 'column', path });
const constant = (value: string | number): Operand => ({ kind: 'constant', value });
const role = (see: Condition, more: Partial<Role> = {}): Role => ({
  ...NO_ROLE,
  tables: { quay_stays: { ...everyAction('none'), see: see as ReturnType<typeof all> } },
  ...more,
});
const problems = (one: Role): string[] => roleProblems(one, tables).map(({ path, message }) => `${path}: ${message}`);

describe('a condition of a right', () => {
  test('names fields of its table, also through links, and who added a record', () => {
    expect(problems(role(all(is(column('berth.letter'), constant('A')))))).toEqual([]);
    expect(problems(role(all(is(column('created_by'), { kind: 'account' }))))).toEqual([]);
    expect(problems(role(all(is(column('gone'), constant('A')))))).toEqual([
      'tables.quay_stays.see: gone is not a field of Stays any more. Change or remove its condition.',
    ]);
    expect(problems(role(all(is(column('number.letter'), constant('A')))))).toHaveLength(1);
  });

  test('reads no form, asks nobody, and says something', () => {
    for (const other of [
      { kind: 'form', path: 'number' },
      { kind: 'enclosing', path: 'number' },
      { kind: 'asked' },
    ] as const)
      expect(problems(role(all(is(column('number'), other))))).toEqual([
        'tables.quay_stays.see: A right to records of Stays compares their own fields: it reads no form and asks nobody.',
      ]);
    expect(problems(role(all()))).toEqual(['tables.quay_stays.see: Say which records: choose a field and what it is.']);
  });

  test('belongs to one table, and rights to a table that has gone mean nothing', () => {
    const forOthers = role(all(is(column('number'), constant('A'))), {
      others: { ...everyAction('none'), see: all(is(column('number'), constant('A'))) },
    });
    expect(problems(forOthers)).toEqual([
      'others: A condition names fields of one table. Give it to that table, not to all others.',
    ]);
    const gone = role(all(is(column('number'), constant('A'))));
    expect(roleProblems(gone, new Map())).toEqual([]);
  });

  test('that names only who asks is decided for all records at once, instead of failing', () => {
    const mine = all(is({ kind: 'account' }, constant('quayclerk')));
    const sql = (account: string) =>
      conditionToSql(tables, 'quay_stays', 's', resolveRight(mine, { account, now: '2026-08-17T09:00' })).text;
    expect([sql('quayclerk'), sql('auditor')]).toEqual(['(TRUE)', '(FALSE)']);
  });
});

test('a table is not there for a role that sees nothing of it, and a hidden field leaves its title', () => {
  const asking = { account: 'quayclerk', now: '2026-08-17T09:00' };
  const seen = (one: Role) => tablesSeenBy(one, tables, asking);
  expect([...seen(NO_ROLE).keys()]).toEqual([]);
  const limited = seen(role(all(is(column('number'), constant('A')))));
  expect([...limited.keys()]).toEqual(['quay_stays']);
  const hidden = seen({
    ...NO_ROLE,
    others: { ...everyAction('all'), fields: {} },
    tables: { quay_stays: { ...everyAction('all'), fields: { number: 'hidden' } } },
  });
  expect(hidden.get('quay_stays')?.fields.map((one) => one.id)).toEqual(['berth']);
  expect(hidden.get('quay_stays')?.title).toBe('{berth}');
  expect(hidden.get('quay_berths')).toEqual(berths);
});
