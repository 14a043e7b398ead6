import { all, is } from '@fiche/core/conditions';
import { plainListing } from '@fiche/core/views';
import { expect, test } from 'vitest';
import { addressOfRecords, narrowed, whereIn, withoutWhere } from './whereInAddress.ts';

const named = (path: string, value: string) => is({ kind: 'column', path }, { kind: 'constant', value });
const where = all(named('harbour', 'Tern Cove'));

test('an address leads to the records behind a bar, with what the chart was asked and searched', () => {
  const address = new URLSearchParams({ asked: '[7]', find: 'gs', view: '4', at: '2026-08-01' });
  const to = new URLSearchParams(addressOfRecords('/quay/tables/stays', { view: 4, where, address }).split('?')[1]);
  expect([to.get('view'), to.get('asked'), to.get('find'), to.get('at')]).toEqual(['4', '[7]', 'gs', null]);
  expect(whereIn(to)).toEqual(where);
  expect(whereIn(withoutWhere(to))).toBeUndefined();
  expect(addressOfRecords('/x', { view: undefined, where })).toContain('view=none');
});

test('what cannot be read is no condition', () => {
  for (const text of ['', '{', '{"kind":"group"}', '7'])
    expect(whereIn(new URLSearchParams({ where: text }))).toBeUndefined();
});

test('the records of a filter are narrowed further, as a list, and alternatives stay together', () => {
  const base = plainListing({ fields: [] } as never);
  const either = { kind: 'group', match: 'any', of: [named('a', 'x'), named('a', 'y')] } as const;
  expect(narrowed({ ...base, filter: all(named('b', 'z')) }, where).filter).toEqual(
    all(named('b', 'z'), named('harbour', 'Tern Cove')),
  );
  expect(narrowed({ ...base, filter: either }, where).filter).toEqual(all(either, named('harbour', 'Tern Cove')));
  expect(narrowed(base, where).shown).toEqual({ as: 'list' });
});
