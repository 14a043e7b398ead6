import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import { all, type Group, is } from '../conditions/index.ts';
import { tables as plain, stayForm as preparedStay } from '../entry/fixtures/harbour.ts';
import { loadExpressions } from '../expressions/index.ts';
import { type DefinedForm, generateForm, prepareForm, subformsOf } from '../forms/index.ts';
import { recordsOf, SeenTables } from '../queries/index.ts';
import type { FieldDefinition, TableDefinition, Tables } from '../tables/index.ts';
import {
  ACTIONS,
  CABINET_RIGHTS,
  covers,
  describeRole,
  type Extent,
  everyAction,
  FIRST_ROLES,
  type FieldLimit,
  formForRole,
  HISTORIES,
  hiddenFrom,
  NO_ROLE,
  type RoleDefinition,
  rightsAnywhere,
  rightTo,
  type TableRights,
  tablesSeenBy,
  unfillableForms,
} from './index.ts';

beforeAll(loadExpressions);

const stayForm = preparedStay().definition;

const ASKING = { account: 'quayclerk', now: '2026-08-17T09:00' };
const calculated = (field: FieldDefinition, calculation: string): FieldDefinition => ({ ...field, calculation });
const tableOf = (id: string): TableDefinition => {
  const table = plain.get(id);
  if (!table) throw new Error(id);
  return table;
};
const stays = tableOf('stays');
/** The harbour with a chain of calculations: `twice` from the vessel’s length, `more` from `twice`. */
const tables: Tables = new Map([
  ...plain,
  [
    'stays',
    {
      ...stays,
      title: '{registration} of {harbour}',
      card: ['registration', 'vessel.length', 'berth.longest'],
      fields: [
        ...stays.fields,
        calculated(
          { ...(stays.fields.find((one) => one.id === 'length') as FieldDefinition), id: 'twice' },
          'vessel.length * 2.0',
        ),
        calculated(
          { ...(stays.fields.find((one) => one.id === 'length') as FieldDefinition), id: 'more' },
          'twice + 1.0',
        ),
      ],
    },
  ],
]);

const roleWith = (some: Partial<RoleDefinition>): RoleDefinition => ({
  label: 'Tried',
  rights: [],
  history: 'seen',
  secondFactor: false,
  others: everyAction('all'),
  tables: {},
  closedForms: [],
  ...some,
});
const hiding = (table: string, ...fields: string[]): RoleDefinition =>
  roleWith({
    tables: {
      [table]: { ...everyAction('all'), fields: Object.fromEntries(fields.map((id) => [id, 'hidden' as const])) },
    },
  });
const FIRST: Group = all(is({ kind: 'column', path: 'harbour' }, { kind: 'constant', value: 1 }));

const extent: fc.Arbitrary<Extent> = fc.constantFrom<Extent>('none', 'own', 'all', FIRST);
const rights: fc.Arbitrary<TableRights> = fc
  .record({
    see: extent,
    add: fc.constantFrom<TableRights['add']>('none', 'all', FIRST),
    change: extent,
    archive: extent,
    export: extent,
    import: fc.constantFrom<TableRights['import']>('none', 'all'),
    fields: fc.dictionary(
      fc.constantFrom(...stays.fields.map((one) => one.id)),
      fc.constantFrom<FieldLimit>('hidden', 'readOnly'),
    ),
  })
  .map((one) => ({ ...one, fields: { ...one.fields } }));
const anyRole: fc.Arbitrary<RoleDefinition> = fc
  .record({
    rights: fc.subarray([...CABINET_RIGHTS]),
    history: fc.constantFrom(...HISTORIES),
    closedForms: fc.subarray(['arrival', 'check_in']),
    stays: rights,
    vessels: fc.constantFrom(everyAction('all'), everyAction('none')),
  })
  .map(({ stays: own, vessels, ...one }) => roleWith({ ...one, tables: { stays: own, vessels } }));

describe('one function decides', () => {
  test('nobody changes, archives or exports what they do not see', () => {
    fc.assert(
      fc.property(anyRole, (role) => {
        if (rightTo(role, 'see', stays) !== 'no') return;
        for (const action of ['change', 'archive', 'export'] as const) expect(rightTo(role, action, stays)).toBe('no');
      }),
    );
  });

  test('a field allows no more than its table, and a hidden one nothing', () => {
    fc.assert(
      fc.property(anyRole, fc.constantFrom(...stays.fields), fc.constantFrom(...ACTIONS), (role, field, action) => {
        const [whole, one] = [rightTo(role, action, stays), rightTo(role, action, stays, field.id)];
        expect(one === 'no' || one === whole || JSON.stringify(one) === JSON.stringify(whole)).toBe(true);
        const limit = role.tables.stays?.fields[field.id];
        const works =
          role.rights.includes('build') || (role.rights.includes('erase') && ['see', 'export'].includes(action));
        if (limit === 'hidden' && !works) expect(one).toBe('no');
      }),
    );
  });

  test('a condition that is not written yet names no record', () => {
    const empty: Group = { kind: 'group', match: 'all', of: [] };
    const seen = tablesSeenBy(roleWith({ tables: { stays: { ...everyAction('all'), see: empty } } }), tables, ASKING);
    expect(recordsOf(seen, 'stays')).toContain('WHERE FALSE');
  });

  test('an option list is seen by everybody and changed by who builds', () => {
    const list = { ...tableOf('faults'), kind: 'list' as const };
    fc.assert(
      fc.property(anyRole, (role) => {
        expect(rightTo(role, 'see', list)).toBe('yes');
        expect(rightTo(role, 'change', list)).toBe(role.rights.includes('build') ? 'yes' : 'no');
      }),
    );
  });

  test('the roles that a cabinet begins with allow what their names say', () => {
    const of = (id: string) => rightsAnywhere(FIRST_ROLES.find((one) => one.id === id) ?? NO_ROLE, tables);
    expect(of('builder')).toEqual([...ACTIONS, 'history', ...CABINET_RIGHTS]);
    expect(of('clerk')).toEqual([...ACTIONS, 'history']);
    expect(of('auditor')).toEqual(['see', 'export', 'history', 'ledger']);
    expect(rightsAnywhere(NO_ROLE, tables)).toEqual([]);
  });
});

describe('a role that covers another', () => {
  test('allows whatever the other does', () => {
    fc.assert(
      fc.property(anyRole, anyRole, (mine, theirs) => {
        expect(covers(mine, mine, tables)).toBe(true);
        if (!covers(mine, theirs, tables)) return;
        for (const table of tables.values())
          for (const action of ACTIONS)
            if (rightTo(theirs, action, table) === 'yes') expect(rightTo(mine, action, table)).toBe('yes');
        for (const right of theirs.rights) expect(mine.rights).toContain(right);
      }),
    );
  });

  test('a builder covers all others, and a right to a hidden field is more than none', () => {
    const builder = FIRST_ROLES[0] ?? NO_ROLE;
    fc.assert(fc.property(anyRole, (role) => covers(builder, role, tables)));
    expect(covers(hiding('stays', 'note'), roleWith({}), tables)).toBe(false);
    expect(covers(roleWith({}), hiding('stays', 'note'), tables)).toBe(true);
  });
});

describe('the tables as a role sees them', () => {
  test('what is calculated from a hidden field is hidden, through tables and further calculations', () => {
    const hidden = hiddenFrom(hiding('vessels', 'length'), tables);
    expect([...(hidden.get('stays') ?? [])].sort()).toEqual(['more', 'twice']);
    const seen = tablesSeenBy(hiding('vessels', 'length'), tables, ASKING);
    expect(seen.get('stays')?.card).toEqual(['registration', 'berth.longest']);
    expect(seen.get('stays')?.title).toBe('{registration} of {harbour}');
  });

  test('a title without its hidden fields, and none where nothing is left', () => {
    const titled = (...fields: string[]) =>
      tablesSeenBy(hiding('stays', ...fields), tables, ASKING).get('stays')?.title;
    expect([titled('registration'), titled('registration', 'harbour'), titled('note')]).toEqual([
      '{harbour}',
      null,
      '{registration} of {harbour}',
    ]);
  });

  test('a table that a role neither sees nor adds to is not there, and records are read within the limit', () => {
    const role = roleWith({
      tables: {
        owners: everyAction('none'),
        stays: { ...everyAction('all'), see: FIRST },
        vessels: { ...everyAction('none'), add: 'all' },
      },
    });
    const seen = tablesSeenBy(role, tables, ASKING);
    expect(seen.has('owners')).toBe(false);
    expect(recordsOf(seen, 'stays')).toBe(`(SELECT s.* FROM "data"."stays" s WHERE (s."harbour" = E'1'::bigint))`);
    expect(recordsOf(seen, 'vessels')).toContain('WHERE FALSE');
    expect(recordsOf(seen, 'berths')).toBe('"data"."berths"');
    expect(recordsOf(tables, 'stays')).toBe('"data"."stays"');
    expect(seen.withDefinitions(tables)).toBeInstanceOf(SeenTables);
  });
});

describe('a form as a role has it', () => {
  test('reads nothing that the role does not see, and runs over what it sees', () => {
    fc.assert(
      fc.property(anyRole, (role) => {
        const made = formForRole(role, stayForm, tables);
        const hidden = hiddenFrom(role, tables);
        if (!hidden.has('stays')) return;
        const seen = tablesSeenBy(role, tables, ASKING);
        const form = prepareForm(made, seen);
        const placed = [...form.fields.values()].filter((field) => field.placed);
        for (const field of placed) {
          expect(hidden.get('stays')?.has(field.id)).toBe(false);
          for (const pair of field.fill?.pairs ?? []) expect(hidden.get('stays')?.has(pair.to)).toBe(false);
          if (role.tables.stays?.fields[field.id] === 'readOnly' && !role.rights.includes('build'))
            expect(field.readOnly).toBe(true);
        }
      }),
    );
  });

  test('cannot be answered where a rule asks why about what the role does not see', () => {
    const rule = {
      id: 'long',
      kind: 'ask' as const,
      when: null,
      must: all({
        kind: 'compare',
        left: { kind: 'form', path: 'length' },
        operator: 'atMost',
        right: { kind: 'constant', value: 12 },
      }),
      at: 'length',
      message: 'Longer than 12 m',
      examples: [],
    };
    const forms = [{ id: 'check_in', definition: { ...stayForm, rules: [rule] } }];
    expect(unfillableForms(hiding('stays', 'length'), forms, tables)).toMatchObject([{ path: 'length' }]);
    expect(unfillableForms(hiding('stays', 'note'), forms, tables)).toEqual([]);
  });

  test('is the same form for a role without limits', () => {
    expect(formForRole(roleWith({}), stayForm, tables)).toEqual(stayForm);
  });

  test('has the lines that the role sees, with what it may do with them', () => {
    const withLines = generateForm(
      tableOf('stays'),
      'Stay',
      {
        may: { add: true, change: true, archive: true },
        opensOn: 'blank',
        fields: 'all',
        subforms: ['used.stay'],
      },
      tables,
    );
    const linesFor = (used: TableRights) =>
      subformsOf(formForRole(roleWith({ tables: { used } }), withLines, tables))[0];
    expect(linesFor(everyAction('all'))).toEqual(subformsOf(withLines)[0]);
    expect(linesFor({ ...everyAction('all'), add: 'none', archive: 'none' })?.may).toEqual({
      add: false,
      change: true,
      archive: false,
    });
    expect(linesFor({ ...everyAction('none'), see: 'all' })?.fields.every((field) => field.readOnly)).toBe(true);
    expect(linesFor(everyAction('none'))).toBeUndefined();
  });

  test('is found to be blind where it requires what the role does not give', () => {
    const forms = [{ id: 'check_in', definition: stayForm as DefinedForm }];
    expect(unfillableForms(roleWith({}), forms, tables)).toEqual([]);
    expect(unfillableForms(hiding('stays', 'harbour'), forms, tables)).toMatchObject([
      { form: 'check_in', path: 'harbour' },
    ]);
    expect(unfillableForms({ ...hiding('stays', 'harbour'), closedForms: ['check_in'] }, forms, tables)).toEqual([]);
  });
});

test('a change of a role in words names what changed, each under its table', () => {
  const reach = (role: RoleDefinition) => {
    const { label: _label, rights: _rights, ...rest } = role;
    return { reach: rest };
  };
  const after = roleWith({
    history: 'own',
    tables: { stays: { ...everyAction('all'), see: FIRST, fields: { note: 'hidden' } } },
  });
  const words = describeRole(reach(roleWith({})), reach(after), tables, new Map([['harbours:1', 'Gannet Quay']]));
  expect(words.map((one) => [one.label, one.before, one.after])).toEqual([
    ['Change histories', 'records that are seen', 'own records'],
    ['stays: See', 'all', 'where harbour is Gannet Quay'],
    ['stays: note', '', 'hidden'],
  ]);
});
