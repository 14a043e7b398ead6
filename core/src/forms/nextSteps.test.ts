import { expect, test } from 'vitest';
import { startedFrom } from '../entry/index.ts';
import { fieldOf as field, tableOf } from '../fixtures/tables.ts';
import { afterSaveOf, differences, generateForm, proposeStart, startsOf } from './index.ts';

const vessels = tableOf('vessels', [
  field('registration', 'text'),
  field('length', 'decimal'),
  field('number', 'sequence'),
]);
const stays = tableOf('stays', [
  field('vessel', 'link', { settings: { table: 'vessels' } }),
  field('registration', 'text'),
  field('length', 'text'),
  field('number', 'sequence'),
  field('twice', 'decimal', { calculation: '2.0 * 2.0' }),
]);

test('a form of another table begins with the record where a link points at it, and with fields of the same name and type', () => {
  const pairs = proposeStart(vessels, stays);
  expect(pairs).toEqual([
    { from: 'self', to: 'vessel' },
    { from: 'registration', to: 'registration' },
  ]);
  const record = {
    id: 7,
    version: 1,
    title: 'Kittiwake Rose',
    values: { registration: 'GS-0421', length: 11.2 },
    linked: {},
  };
  expect(startedFrom(record, pairs)).toEqual({
    record: null,
    fields: [
      { field: 'vessel', value: 7, linked: { title: 'Kittiwake Rose', facts: {} } },
      { field: 'registration', value: 'GS-0421' },
    ],
    lines: {},
  });
  // What is blank in the record is left to the form’s own defaults.
  expect(startedFrom({ ...record, values: { registration: null } }, pairs).fields).toHaveLength(1);
});

test('a form of a version before goes on with its card and has no buttons; a version says in words what follows now', () => {
  const before = generateForm(vessels);
  expect([afterSaveOf(before), startsOf(before)]).toEqual([{ kind: 'card' }, []]);
  const after = {
    ...before,
    view: 3,
    after: { kind: 'blank' as const },
    starts: [{ label: 'Check in', form: 'check_in', pairs: [] }],
  };
  const tables = new Map([[vessels.id, vessels]]);
  expect(differences(before, after, tables).map((one) => one.words)).toEqual([
    'It now shows the records of a view',
    'Something else follows a save',
    'Its buttons to other forms changed',
  ]);
  expect(differences(before, { ...before, after: { kind: 'card' }, starts: [] }, tables)).toEqual([]);
});
