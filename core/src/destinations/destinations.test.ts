import fc from 'fast-check';
import { expect, test } from 'vitest';
import { fieldOf as field, tableOf } from '../fixtures/tables.ts';
import type { TableDefinition, Tables } from '../tables/index.ts';
import {
  type Destinations,
  destinationsSchema,
  destinationWords,
  fittingFields,
  fittingLinks,
  homeOf,
  OWN,
  reasonsOfPart,
  tablesOfForm,
  valuesByPart,
  withDestination,
  withoutDestination,
  writingOrder,
} from './index.ts';

const link = (id: string, table: string, more: object = {}) => field(id, 'link', { settings: { table }, ...more });
const owners = tableOf('owners', [field('name', 'text', { required: true }), field('e_mail', 'email')], {
  label: 'Owners',
});
const craft = tableOf(
  'craft',
  [
    field('name', 'text', { required: true }),
    field('mark', 'text', { required: true, unique: true }),
    link('owner', 'owners', { required: true }),
  ],
  { label: 'Craft' },
);
const visits = tableOf('visits', [link('craft', 'craft', { required: true }), field('nights', 'wholeNumber')]);
const tables: Tables = new Map([owners, craft, visits].map((one) => [one.id, one]));

/** The form as a builder makes it: both tables chosen, nothing else. */
const proposed = (): { table: string; destinations: Destinations } => {
  const first = withDestination({ table: 'visits' }, owners, tables);
  return { table: 'visits', destinations: withDestination({ table: 'visits', destinations: first }, craft, tables) };
};

test('a table that is chosen is found by what tells its records apart, and linked where a link fits', () => {
  const { destinations } = proposed();
  expect(destinations.of.map(({ id, does, key }) => [id, does, key])).toEqual([
    ['owners', 'findOrAdd', ['e_mail']],
    ['craft', 'findOrAdd', ['mark']],
  ]);
  expect(destinations.links).toEqual([
    { of: OWN, field: 'craft', to: 'craft' },
    { of: 'craft', field: 'owner', to: 'owners' },
  ]);
  expect(destinationWords(proposed(), tables)).toContain('Craft › owner points at the record of Owners');
  expect(fittingLinks(proposed(), tables)).toHaveLength(2);
  const twice = withDestination(proposed(), owners, tables);
  expect(twice.of.map((one) => one.id)).toEqual(['owners', 'craft', 'owners2']);
  expect(withoutDestination(proposed(), 'craft')).toMatchObject({ of: [{ id: 'owners' }], links: [] });
  expect(
    withoutDestination(
      { table: 'visits', destinations: { ...destinations, of: destinations.of.slice(0, 1) } },
      'owners',
    ),
  ).toBe(null);
});

test('the table of the form has the fields of its destinations, under names of their own, without links that it sets', () => {
  const form = proposed();
  const whole = tablesOfForm(form, tables);
  expect(tablesOfForm(form, tables)).toBe(whole);
  expect(tablesOfForm({ table: 'visits' }, tables)).toBe(tables);
  expect(whole.get('visits')?.fields.map(({ id, label, required }) => `${id} ${label}${required ? ' *' : ''}`)).toEqual(
    [
      // The form sets it: nobody has to.
      'craft craft',
      'nights nights',
      'owners__name name *',
      'owners__e_mail e_mail',
      'craft__name name of Craft *',
      'craft__mark mark *',
    ],
  );
  expect(homeOf(form, 'craft__mark')).toEqual({ part: 'craft', field: 'mark' });
  expect(homeOf(form, 'nights')).toEqual({ part: OWN, field: 'nights' });
  const mark = craft.fields[1];
  if (mark)
    expect(fittingFields(form, mark, tables).map(({ of, field: to }) => `${of} ${to.id}`)).toContain('owners name');
});

test('a record that is always added is held to the rules of its table while the form is filled, by what is entered there', () => {
  const path = (of: string) => ({ kind: 'form', path: of });
  const rule = (id: string, at: string, left: string, right: string) =>
    ({ id, kind: 'ask', when: null, examples: [], at, message: id, must: compare(left, right) }) as const;
  const compare = (left: string, right: string) =>
    ({ kind: 'compare', left: path(left), operator: 'atMost', right: path(right) }) as const;
  const stays = {
    ...tableOf('stays', [
      ...['least', 'most', 'copied'].map((id) => field(id, 'wholeNumber')),
      field('starts', 'wholeNumber', { initial: { kind: 'value', value: 3 } }),
      link('craft', 'craft'),
      link('berth', 'craft'),
    ]),
    rules: [
      rule('plain', 'most', 'least', 'most'),
      rule('behind', 'berth', 'copied', 'berth.length'),
      rule('linked', 'berth', 'craft.draught', 'berth.depth'),
      rule('started', 'starts', 'least', 'starts'),
      {
        ...rule('given', 'least', 'least', 'most'),
        must: { kind: 'compare', left: path('least'), operator: 'isNotBlank' },
      },
      { ...rule('formula', 'least', 'least', 'most'), must: { kind: 'expression', source: 'least < most' } },
    ],
  } as unknown as TableDefinition;
  const of = (does: string) => ({
    table: 'visits',
    destinations: destinationsSchema.parse({
      of: [{ id: 'stay', table: 'stays', does, key: does === 'add' ? [] : ['least'] }],
      links: [{ of: 'stay', field: 'craft', to: OWN }],
      copies: [{ from: 'nights', of: 'stay', to: 'copied' }],
    }),
  });
  const rulesOf = (does: string) => tablesOfForm(of(does), new Map(tables).set('stays', stays)).get('visits')?.rules;
  expect(rulesOf('add')).toEqual([
    { ...rule('stay__plain', 'stay__most', 'stay__least', 'stay__most'), message: 'plain' },
    { ...rule('stay__behind', 'stay__berth', 'nights', 'stay__berth.length'), message: 'behind' },
  ]);
  expect(rulesOf('findOrAdd')).toEqual([]);
  expect(reasonsOfPart('stay', { stay__plain: 'agreed', own: 'so' })).toEqual({ plain: 'agreed', own: 'so' });
});

test('values go where they belong, also to several places; where nothing was entered, nothing is written', () => {
  const { table, destinations } = proposed();
  const form = {
    table,
    destinations: { ...destinations, copies: [{ from: 'owners__name', of: 'craft', to: 'name' }] },
  };
  const parts = valuesByPart(form as never, { nights: 2, owners__name: 'Ada', owners__e_mail: null });
  expect(parts.get(OWN)).toEqual({ values: { nights: 2 }, given: true });
  expect(parts.get('owners')).toEqual({ values: { name: 'Ada', e_mail: null }, given: true });
  expect(parts.get('craft')).toEqual({ values: { name: 'Ada' }, given: true });
  expect(valuesByPart(form as never, { nights: 1, owners__name: null }).get('owners')?.given).toBe(false);
});

test('whatever is linked, each record is written after those that it points at, or the circle is named', () => {
  const parts = ['self', 'a', 'b', 'c', 'd'];
  const anyLinks = fc.array(
    fc.record({ of: fc.constantFrom(...parts), field: fc.constant('link'), to: fc.constantFrom(...parts) }),
    { maxLength: 8 },
  );
  fc.assert(
    fc.property(anyLinks, (links) => {
      const destinations = destinationsSchema.parse({
        of: parts.slice(1).map((id) => ({ id, table: 'owners' })),
        links,
      });
      const found = writingOrder({ table: 'visits', destinations });
      if ('order' in found) {
        expect([...found.order].sort()).toEqual([...parts].sort());
        for (const { of, to } of links) expect(found.order.indexOf(to)).toBeLessThan(found.order.indexOf(of));
      } else {
        // Each of the circle points at the next one, and the last one is the first.
        expect(found.circle[0]).toBe(found.circle.at(-1));
        for (const [at, of] of found.circle.slice(0, -1).entries())
          expect(links.some((one) => one.of === of && one.to === found.circle[at + 1])).toBe(true);
      }
    }),
  );
});
