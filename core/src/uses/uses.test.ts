import { describe, expect, test } from 'vitest';
import { all, type Group, is } from '../conditions/index.ts';
import { fieldOf, tableOf } from '../fixtures/tables.ts';
import { COMMON_SHEETS, labelLayoutSchema } from '../labels/index.ts';
import { plainListing, shownSchema } from '../views/index.ts';
import { type UsedThing, type UsedWorld, usesOf } from './index.ts';

const vessel = fieldOf('vessel', 'link', { settings: { table: 'quay_vessels' }, initial: { kind: 'value', value: 7 } });
const stays = tableOf('quay_stays', [fieldOf('note', 'text'), vessel, fieldOf('length', 'decimal')]);
const vessels = tableOf('quay_vessels', [fieldOf('name', 'text')]);
const owners = tableOf('quay_owners', [
  fieldOf('flagship', 'link', { settings: { table: 'quay_vessels' } }),
  fieldOf('member', 'wholeNumber'),
]);
const where = (path: string, value: number): Group =>
  all(is({ kind: 'column', path }, { kind: 'constant', value })) as Group;
const view = (id: number, table: typeof stays, filter: Group) => ({
  id,
  table: table.id,
  label: `View ${id}`,
  listing: { ...plainListing(table), filter },
});
const world: UsedWorld = {
  tables: new Map([stays, vessels, owners].map((table) => [table.id, table])),
  forms: [],
  views: [
    view(1, stays, where('vessel', 7)),
    view(2, stays, where('vessel', 8)),
    view(3, stays, where('length', 7)),
    view(4, owners, where('flagship', 7)),
    view(5, owners, where('member', 7)),
  ],
  roles: [],
  labels: [
    {
      id: 1,
      table: 'quay_stays',
      label: 'Tags',
      layout: labelLayoutSchema.parse({ sheet: COMMON_SHEETS[0], lines: [{ text: '{vessel.name}' }] }),
    },
  ],
  calendars: [{ id: 1, table: 'quay_stays', label: 'Mine', listing: plainListing(stays), dates: ['note'] }],
};
const found = (thing: UsedThing): string[] =>
  usesOf(thing, world).map(({ place, words }) => `${place.kind} ${place.label}: ${words.join('; ')}`);

describe('a record', () => {
  test('is used where a link to its table is compared with it or begins with it, not where a number is the same', () => {
    expect(found({ kind: 'record', table: 'quay_vessels', record: 7 }).sort()).toEqual([
      'table quay_stays: the default of vessel',
      'view View 1: its filter',
      'view View 4: its filter',
    ]);
    expect(found({ kind: 'record', table: 'quay_vessels', record: 9 })).toEqual([]);
    expect(found({ kind: 'record', table: 'quay_owners', record: 7 })).toEqual([]);
  });
});

test('a field is used by labels that reach it through a link, and by the dates of a calendar', () => {
  expect(found({ kind: 'field', table: 'quay_vessels', field: 'name' })).toContain('labels Tags: a line of them');
  expect(found({ kind: 'field', table: 'quay_stays', field: 'note' })).toContain(
    'calendar Mine: a column of it; the date of its events',
  );
});

test('a form is used by lanes whose records open in it', () => {
  const shown = shownSchema.parse({
    as: 'lanes',
    lanes: { start: 'arrival', lane: 'vessel', form: 'quay_check_in' },
  });
  const lanes = { id: 9, table: 'quay_stays', label: 'Lanes', listing: { ...plainListing(stays), shown } };
  const among = usesOf({ kind: 'form', form: 'quay_check_in' }, { ...world, views: [lanes] });
  expect(among.map(({ place, words }) => [place.label, words])).toEqual([['Lanes', ['where its records open']]]);
  expect(usesOf({ kind: 'form', form: 'quay_other' }, { ...world, views: [lanes] })).toEqual([]);
});
