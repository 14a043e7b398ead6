import { describe, expect, test } from 'vitest';
import { all, is } from '../conditions/index.ts';
import { testField as field } from '../fixtures/testField.ts';
import type { FieldDefinition, TableDefinition, Tables } from '../tables/index.ts';
import {
  describeView,
  listingSeenBy,
  plainListing,
  proposeShown,
  type Shown,
  shownProblems,
  shownReads,
  shownSchema,
  shownWords,
} from './index.ts';

const table = (id: string, label: string, fields: FieldDefinition[], more: Partial<TableDefinition> = {}) =>
  ({
    id,
    label,
    cabinet: 'quay',
    kind: 'records',
    title: null,
    fields,
    rules: [],
    constraints: [],
    ...more,
  }) as unknown as TableDefinition;
const link = (id: string, label: string, to: string, more: Partial<FieldDefinition> = {}): FieldDefinition =>
  field(id, label, 'link', { table: to }, more);
const ofParent = (parent: string) => all(is({ kind: 'column', path: parent }, { kind: 'form', path: parent }));

const overlaps = { kind: 'noOverlap', id: 'one', same: ['berth'], from: 'arrival', to: 'departure', message: 'Taken.' };
const stays = table(
  'stays',
  'Stays',
  [
    link('pontoon', 'Pontoon', 'pontoons'),
    link('berth', 'Berth', 'berths', { narrowing: ofParent('pontoon') }),
    link('vessel', 'Vessel', 'vessels'),
    field('booked', 'Booked on', 'date'),
    field('arrival', 'Arrival', 'dateTime'),
    field('departure', 'Departure', 'dateTime'),
  ],
  { constraints: [overlaps] as never },
);
const berths = table('berths', 'Berths', [field('number', 'Number', 'text'), link('pontoon', 'Pontoon', 'pontoons')]);
const pontoons = table('pontoons', 'Pontoons', [
  field('letter', 'Letter', 'text'),
  link('harbour', 'Harbour', 'harbours'),
]);
const vessels = table('vessels', 'Vessels', [field('name', 'Name', 'text')]);
const harbours = table('harbours', 'Harbours', [field('name', 'Name', 'text')]);
const tables: Tables = new Map([stays, berths, pontoons, vessels, harbours].map((one) => [one.id, one]));
const lanes = proposeShown('lanes', stays, tables) as Extract<Shown, { as: 'lanes' }>;

describe('how a table could be shown', () => {
  test('in lanes follows its rule against overlaps; what narrows the lane is not written on a period', () => {
    expect(lanes.lanes).toMatchObject({
      start: 'arrival',
      end: 'departure',
      lane: 'berth',
      label: 'vessel',
      facts: ['pontoon.harbour'],
    });
    expect(shownProblems(lanes, stays, tables)).toEqual([]);
    expect(shownWords(lanes, stays, tables)).toBe('Lanes of Berth: Arrival to Departure');
  });

  test('as a calendar without such a rule takes its first two dates of one type', () => {
    const plain = { ...stays, constraints: [] };
    expect(proposeShown('calendar', plain, tables)).toMatchObject({
      calendar: { start: 'booked', end: null, label: 'vessel' },
    });
    expect(proposeShown('calendar', stays, tables)).toMatchObject({ calendar: { start: 'arrival', end: 'departure' } });
  });

  test('as a chart takes a date, else a link, else a field with categories; and nothing where nothing serves', () => {
    expect(proposeShown('chart', stays, tables)).toMatchObject({ chart: { kind: 'time', path: 'booked' } });
    expect(proposeShown('chart', berths, tables)).toMatchObject({ chart: { kind: 'categories', path: 'pontoon' } });
    expect(proposeShown('chart', vessels, tables)).toMatchObject({ chart: { kind: 'categories', path: 'name' } });
    expect(proposeShown('lanes', berths, tables)).toBeUndefined();
    expect(proposeShown('calendar', vessels, tables)).toBeUndefined();
  });
});

describe('what is shown in time', () => {
  test('names each fault at its place, also among the records that have a lane', () => {
    const wrong = (change: object) =>
      shownProblems(shownSchema.parse({ as: 'lanes', lanes: { ...lanes.lanes, ...change } }), stays, tables).map(
        (one) => [one.path, one.message],
      );
    expect(wrong({ end: 'booked' })).toEqual([
      ['shown.end', 'Arrival and Booked on are not of one type. Choose two dates, or two dates with times.'],
    ]);
    expect(wrong({ start: 'gone' })).toEqual([
      ['shown.start', 'gone is not a field of Stays any more. Choose another one.'],
    ]);
    expect(wrong({ facts: ['gone'] })).toEqual([
      ['shown.where', 'gone is not a field of Berths any more. Choose again which records have a lane.'],
    ]);
    expect(
      wrong({ where: all(is({ kind: 'column', path: 'lost' }, { kind: 'constant', value: 1 })) })[0]?.[1],
    ).toContain('lost is not a field of Berths');
  });

  test('says every field that it reads, those of the lanes apart', () => {
    expect(shownReads(lanes).map(({ path, of }) => `${of} ${path}`)).toEqual([
      'table arrival',
      'table departure',
      'table vessel',
      'table berth',
      'lanes pontoon.harbour',
    ]);
  });

  test('is not there for whoever does not see one of its fields', () => {
    const listing = { ...plainListing(stays), columns: [{ path: 'arrival' }], shown: lanes };
    const blind = new Map(tables).set('stays', { ...stays, fields: stays.fields.filter((one) => one.id !== 'berth') });
    expect(listingSeenBy(listing, stays, tables)).toBeDefined();
    expect(listingSeenBy(listing, stays, blind)).toBeUndefined();
    expect(listingSeenBy({ ...listing, shown: { as: 'list' } }, stays, blind)).toBeDefined();
  });
});

test('the ledger says how a view is shown, out of a line that leaves out what is null', () => {
  const shown = { as: 'chart', chart: { kind: 'time', path: 'arrival', step: 'week', measure: { of: 'count' } } };
  const definition = { columns: [{ path: 'arrival' }], filter: all(), sort: [], shown };
  const lines = describeView(null, { label: 'Arrivals', home: true, definition }, 'stays', tables, new Map());
  const said = Object.fromEntries(lines.map((one) => [one.label, one.after]));
  expect(said).toMatchObject({ 'Shown as': 'Chart: Number of Stays a week, by Arrival', 'On everybody’s Home': 'yes' });
});
