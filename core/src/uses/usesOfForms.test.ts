import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { all, type Group, is, type Operand } from '../conditions/index.ts';
import { column, form, tables as harbour } from '../entry/fixtures/harbour.ts';
import { linesForm } from '../entry/fixtures/lines.ts';
import { type DefinedForm, formDefinitionSchema, isField, isSubform } from '../forms/index.ts';
import { everyAction, NO_ROLE, type Role } from '../rights/index.ts';
import { type TableDefinition, type Tables, tablesNamed } from '../tables/index.ts';
import { type UsedThing, type UsedWorld, usesOf } from './index.ts';

const constant = (value: string | number): Operand => ({ kind: 'constant', value });
const when = (path: string, value: string | number): Group => all(is(form(path), constant(value)));

/** The form of stays with lines, in which a condition, a calculation, a fill, a rule and a button stand at every place there is. */
const stay: DefinedForm = (() => {
  const { definition } = linesForm();
  const own: Record<string, object> = {
    registration: {
      shownWhen: when('note', 'moored'),
      fill: {
        table: 'vessels',
        key: 'registration',
        whenNone: 'message',
        pairs: [{ from: 'owner.phone', to: 'phone', policy: 'keep' }],
      },
    },
    phone: { requiredWhen: when('vessel', 5) },
    departure: { initial: { kind: 'calculation', source: 'arrival' } },
    pontoon: {
      narrowing: {
        where: all(is(column('harbour'), form('harbour')), is(column('letter'), constant('A'))),
        sort: 'letter',
        show: ['harbour'],
        only: false,
      },
    },
  };
  return formDefinitionSchema.parse({
    ...definition,
    label: 'Check-in',
    rules: [
      {
        id: 'late',
        kind: 'stop',
        when: when('note', 'late'),
        must: { kind: 'expression', source: 'departure > arrival' },
        at: 'departure',
        message: 'Too late.',
      },
    ],
    sections: definition.sections.map((section) => ({
      ...section,
      shownWhen: when('harbour', 2),
      items: [
        ...section.items.map((item) => (isField(item) ? { ...item, ...own[item.field] } : item)),
        { kind: 'card', id: 'vessel_card', of: 'vessel' },
      ],
    })),
    after: { kind: 'form', form: 'dues' },
    starts: [{ label: 'Start dues', form: 'dues', pairs: [{ from: 'length', to: 'length' }] }],
  });
})();
const role: Role = {
  ...NO_ROLE,
  id: 'clerk',
  label: 'Clerk',
  tables: {
    vessels: {
      ...everyAction('all'),
      change: all(is(column('owner'), constant(1))),
      fields: { name: 'hidden', length: 'readOnly' },
    },
  },
  closedForms: ['check_in'],
};
const world: UsedWorld = {
  tables: harbour,
  forms: [
    { id: 'check_in', draft: stay, live: null },
    { id: 'dues', draft: { ...stay, label: 'Dues', starts: [], rules: [] } as DefinedForm, live: null },
  ],
  views: [],
  roles: [role],
  labels: [],
  calendars: [],
};
const usesIn = (thing: UsedThing, place: string): readonly string[] =>
  usesOf(thing, world).find((one) => one.place.id === place)?.words ?? [];
const ofField = (table: string, field: string) => usesIn({ kind: 'field', table, field }, 'check_in');

describe('a field is used in a form', () => {
  test('where it stands, and by conditions, calculations, defaults, fills, rules and buttons', () => {
    expect(ofField('stays', 'note')).toEqual(
      expect.arrayContaining(['when registration is shown', 'a field on it', 'the rule “Too late.”']),
    );
    expect(ofField('stays', 'vessel')).toEqual(expect.arrayContaining(['when phone is required', 'a reference card']));
    expect(ofField('stays', 'arrival')).toEqual(
      expect.arrayContaining(['the default of departure', 'the rule “Too late.”']),
    );
    expect(ofField('stays', 'phone')).toContain('what registration fills');
    expect(ofField('stays', 'length')).toContain('the button Start dues');
    expect(ofField('stays', 'harbour')).toEqual(
      expect.arrayContaining(['what narrows pontoon', expect.stringMatching(/^when .* is shown$/)]),
    );
  });

  test('as a column of choices, of a source, through a link, and in lines', () => {
    expect(ofField('pontoons', 'letter')).toEqual(['what narrows pontoon', 'the choices of pontoon']);
    expect(ofField('pontoons', 'harbour')).toContain('the choices of pontoon');
    expect(ofField('vessels', 'registration')).toEqual(['what registration finds by']);
    expect(ofField('vessels', 'owner')).toEqual(['what registration fills']);
    expect(ofField('owners', 'phone')).toEqual(['what registration fills']);
    expect(ofField('used', 'stay')).toEqual(['its lines']);
    expect(ofField('used', 'quantity')).toEqual(expect.arrayContaining(['a field on it', 'the calculation of amount']));
    expect(ofField('used', 'amount')).toContain('the calculation of length');
    expect(ofField('berths', 'longest')).toContain('what narrows service');
    expect(ofField('tariff', 'rate')).toEqual(['what service fills']);
    expect(ofField('tariff', 'unit')).toEqual([]);
  });
});

test('an option and a record are used where a value of that very field is compared with it', () => {
  expect(usesIn({ kind: 'option', table: 'stays', field: 'note', option: 'late' }, 'check_in')).toEqual([
    'the rule “Too late.”',
  ]);
  expect(usesIn({ kind: 'option', table: 'stays', field: 'phone', option: 'late' }, 'check_in')).toEqual([]);
  expect(usesIn({ kind: 'record', table: 'vessels', record: 5 }, 'check_in')).toEqual(['when phone is required']);
  expect(usesIn({ kind: 'record', table: 'harbours', record: 5 }, 'check_in')).toEqual([]);
  expect(usesIn({ kind: 'record', table: 'owners', record: 1 }, 'clerk')).toEqual(['which records it may change']);
});

test('a form is used by what follows a save, by buttons, and by roles that do not get it', () => {
  const uses = (name: string) =>
    usesOf({ kind: 'form', form: name }, world).map(({ place, words }) => [place.id, words]);
  expect(uses('dues')).toEqual([
    ['check_in', ['what follows a save', 'the button Start dues']],
    ['dues', ['what follows a save']],
  ]);
  expect(uses('check_in')).toEqual([['clerk', ['does not get it']]]);
});

test('a role uses the tables that it has rights to, and the fields that it limits', () => {
  expect(usesIn({ kind: 'table', table: 'vessels' }, 'clerk')).toEqual(['rights to it']);
  expect(usesIn({ kind: 'field', table: 'vessels', field: 'name' }, 'clerk')).toEqual(['does not see it']);
  expect(usesIn({ kind: 'field', table: 'vessels', field: 'length' }, 'clerk')).toEqual(['does not write it']);
});

test('no table that a form names and no field that stands on it is called unused', () => {
  const placed = stay.sections
    .flatMap((section) => section.items)
    .flatMap((item) => {
      if (isField(item)) return [{ table: 'stays', field: item.field }];
      return isSubform(item) ? item.fields.map((one) => ({ table: item.table, field: one.field })) : [];
    });
  for (const { table, field } of placed) expect(ofField(table, field), `${table}.${field}`).toContain('a field on it');
  for (const table of tablesNamed(stay)) expect(usesIn({ kind: 'table', table }, 'check_in'), table).not.toEqual([]);
});

test('what nothing names is free: a field of its own of any table is used by nothing', () => {
  const extra = {
    ...(harbour.get('stays') as TableDefinition).fields[0],
    id: 'extra',
    label: 'extra',
  } as TableDefinition['fields'][number];
  fc.assert(
    fc.property(fc.constantFrom(...harbour.keys()), (id) => {
      const tables: Tables = new Map(
        [...harbour].map(([key, table]) => [key, key === id ? { ...table, fields: [...table.fields, extra] } : table]),
      );
      expect(usesOf({ kind: 'field', table: id, field: 'extra' }, { ...world, tables })).toEqual([]);
    }),
  );
});
