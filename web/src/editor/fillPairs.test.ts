import type { Fill } from '@fiche/core/fills';
import { generateForm, type PreparedField, prepareForm } from '@fiche/core/forms';
import type { Tables } from '@fiche/core/tables';
import { describe, expect, test } from 'vitest';
import {
  beginFill,
  columnsFor,
  type Filling,
  freeTargets,
  fromWords,
  likelyColumn,
  likelyKey,
  targetsOf,
  withPair,
  withTarget,
} from './fillPairs.ts';
import { table } from './fixtures.ts';

const owners = table('quay_owners', 'Owners', [
  ['Name', 'text'],
  ['Phone', 'phone'],
]);
const vessels = table('quay_vessels', 'Vessels', [
  ['Registration', 'text'],
  ['Rate', 'decimal'],
  ['Length', 'decimal'],
  ['Owner', 'link', { table: 'quay_owners' }],
]);
const stays = table('quay_stays', 'Stays', [
  ['Vessel', 'link', { table: 'quay_vessels' }],
  ['Registration', 'text'],
  ['Length', 'decimal'],
  ['Nightly rate', 'decimal'],
  ['Owner', 'link', { table: 'quay_owners' }],
  ['Number', 'sequence'],
]);
const tables: Tables = new Map([owners, vessels, stays].map((one) => [one.id, one]));
const may = { add: true, change: true, archive: true };
const form = prepareForm(
  generateForm(stays, 'Stay', { may, opensOn: 'blank', fields: 'all', subforms: [] }, tables),
  tables,
);
const fieldOf = (id: string): PreparedField => form.fields.get(id) as PreparedField;
const filling = (fill: Fill, of = 'vessel'): Filling => ({ tables, fill, targets: targetsOf(form, fieldOf(of)) });
const chosen = beginFill(form, fieldOf('vessel'), 'quay_vessels', null);

describe('what a field fills', () => {
  test('begins with the pairs whose labels and types agree; what is given by the system is left out', () => {
    expect(targetsOf(form, fieldOf('vessel')).map(({ id }) => id)).toEqual([
      'registration',
      'length',
      'nightly rate',
      'owner',
    ]);
    expect(chosen.pairs.map(({ from, to }) => `${from} → ${to}`)).toEqual([
      'registration → registration',
      'length → length',
      'owner → owner',
    ]);
  });

  test('a typed key is looked up in the column of its own name, and puts the record itself into its link', () => {
    expect(likelyKey(form, 'quay_vessels', fieldOf('registration'))).toBe('registration');
    expect(likelyKey(form, 'quay_owners', fieldOf('registration'))).toBe('name');
    expect(beginFill(form, fieldOf('registration'), 'quay_vessels', 'registration').pairs[0]).toEqual({
      from: 'self',
      to: 'vessel',
      policy: 'replace',
    });
  });

  test('a field is offered what fits it only, columns of linked records too', () => {
    expect(columnsFor(filling(chosen), 'nightly rate').map(({ value }) => value)).toEqual(['rate', 'length']);
    expect(columnsFor(filling(chosen), 'registration').map(({ value }) => value)).toEqual([
      'registration',
      'owner.name',
      'owner.phone',
    ]);
    expect(columnsFor(filling(chosen), 'owner').map(({ value }) => value)).toEqual(['owner']);
  });

  test('one more field takes the column that its label ends with', () => {
    expect(freeTargets(filling(chosen)).map(({ id }) => id)).toEqual(['nightly rate']);
    expect(likelyColumn(filling(chosen), 'nightly rate')).toBe('rate');
    const more = withTarget(filling(chosen), 'nightly rate');
    expect(more.pairs.at(-1)).toEqual({ from: 'rate', to: 'nightly rate', policy: 'replace' });
    expect(freeTargets(filling(more))).toEqual([]);
  });

  test('a pair that gets another field keeps its column only where that fits', () => {
    const kept = withPair(filling(chosen), 1, { to: 'nightly rate' });
    expect(kept.pairs[1]).toMatchObject({ from: 'length', to: 'nightly rate' });
    const other = withPair(filling(chosen), 0, { to: 'nightly rate' });
    expect(other.pairs[0]).toMatchObject({ from: 'rate', to: 'nightly rate' });
    expect(withPair(filling(chosen), 0, { policy: 'ask' }).pairs[0]).toMatchObject({ policy: 'ask' });
    expect(withPair(filling(chosen), 0, undefined).pairs.map(({ to }) => to)).toEqual(['length', 'owner']);
  });

  test('says where a value comes from', () => {
    const words = (from: string, to: string) => fromWords(filling(chosen), { from, to, policy: 'replace' });
    expect(words('owner.phone', 'registration')).toBe('Owner › Phone');
    expect(words('self', 'vessel')).toBe('the record itself');
    expect(words('gone', 'registration')).toBe('gone');
  });
});
