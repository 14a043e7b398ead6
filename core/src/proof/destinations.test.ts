import { describe, expect, test } from 'vitest';
import { type Destinations, fieldOfDestination, OWN, withDestination } from '../destinations/index.ts';
import { fieldOf, tableOf } from '../fixtures/tables.ts';
import { type DefinedForm, formDefinitionSchema, generateForm } from '../forms/index.ts';
import type { TableDefinition, Tables } from '../tables/index.ts';
import { prove } from './index.ts';

const link = (id: string, table: string) => fieldOf(id, 'link', { settings: { table } });
const owners = tableOf('owners', [fieldOf('name', 'text'), fieldOf('mail', 'email')]);
const craft = tableOf('craft', [
  fieldOf('name', 'text'),
  fieldOf('mark', 'text', { unique: true }),
  link('owner', 'owners'),
]);
const visits = tableOf('visits', [
  link('craft', 'craft'),
  fieldOf('nights', 'wholeNumber'),
  fieldOf('note', 'text'),
  fieldOf('number', 'sequence', { settings: { prefix: 'V-' } }),
]);
const all = [owners, craft, visits];
const world = (change: (table: TableDefinition) => TableDefinition = (table) => table): Tables =>
  new Map(all.map((one) => [one.id, change(one)]));

/** A visit that finds or adds its owner and craft, with these fields on the form. */
const FIELDS = ['nights', 'owners__name', 'owners__mail', 'craft__name', 'craft__mark'];
function form(
  change: (destinations: Destinations) => Partial<Destinations> = () => ({}),
  fields = FIELDS,
  more: Partial<DefinedForm> = {},
): DefinedForm {
  const first = withDestination({ table: 'visits' }, owners, world());
  const destinations = withDestination({ table: 'visits', destinations: first }, craft, world());
  return formDefinitionSchema.parse({
    ...generateForm(visits),
    label: 'Visit',
    destinations: { ...destinations, ...change(destinations) },
    sections: [{ id: 'main', label: '', items: fields.map((field) => ({ kind: 'field', field })) }],
    ...more,
  });
}
const found = (definition: DefinedForm, tables = world()): string[] =>
  prove(definition, tables, '2026-08-17T09:00')
    .filter((one) => one.rule === 'destination')
    .map((one) => one.message);

describe('a form into several tables', () => {
  test('as it is proposed has nothing against it', () => {
    expect(found(form())).toEqual([]);
  });

  test('does not write to a table that is archived or gone', () => {
    const archived = world((table) => (table === craft ? { ...table, archived: true } : table));
    expect(found(form(), archived)).toEqual([
      'craft is archived, and the form writes to it. Remove the destination, or restore the table.',
    ]);
    const gone = new Map([...world()].filter(([id]) => id !== 'owners'));
    expect(found(form(), gone)[0]).toContain('is not there any more, and the form writes to it.');
  });

  test('finds records by fields that are there and that something on the form gives', () => {
    const keyed = (key: string[]) =>
      form(({ of }) => ({ of: of.map((one) => (one.id === 'craft' ? { ...one, key } : one)) }));
    expect(found(keyed([]))).toEqual(['Say what a record of craft is found by: choose a key field.']);
    expect(found(keyed(['gone']))).toEqual(['gone is not a field of craft any more. Choose another key.']);
    const without = FIELDS.filter((one) => one !== 'craft__mark');
    expect(found(form(undefined, without))).toEqual([
      'craft is found by mark, which nothing on the form gives. Put the field on the form, or let another one go to it.',
    ]);
    // Another field that goes there is enough, and so is a link that the form writes.
    const copied = form(() => ({ copies: [{ from: 'note', of: 'craft', to: 'mark' }] }), [...without, 'note']);
    expect(found(copied)).toEqual([]);
    expect(found(keyed(['mark', 'owner']))).toEqual([]);
  });

  test('writes something to each of them', () => {
    const few = FIELDS.filter((one) => !one.startsWith('owners__'));
    const message = 'Nothing on the form goes to owners. Put a field of it on the form, or remove the destination.';
    expect(
      found(form(({ of }) => ({ of: of.map((one) => ({ ...one, does: 'add' as const, key: [] })) }), few)),
    ).toEqual([message]);
  });

  test('links them in no circle, by links that are there, fit, and are not entered as well', () => {
    const circle = form(({ links }) => ({ links: [...links, { of: 'owners', field: 'first', to: 'craft' }] }));
    const withFirst = world((table) =>
      table === owners ? { ...table, fields: [...table.fields, link('first', 'craft')] } : table,
    );
    expect(found(circle, withFirst)).toEqual([
      expect.stringMatching(
        /^(craft points at owners points at craft|owners points at craft points at owners): the records are linked in a circle/,
      ),
    ]);
    const linked = (field: string, to: string) => form(() => ({ links: [{ of: OWN, field, to }] }));
    expect(found(linked('gone', 'craft'))).toEqual(['gone of visits is not there any more. Remove the link to craft.']);
    expect(found(linked('craft', 'owners'))).toEqual([
      'craft of visits does not point at a record of owners. Remove the link.',
    ]);
    expect(found(linked('note', 'owners'))).toEqual([
      'note of visits does not point at a record of owners. Remove the link.',
    ]);
    expect(found(form(undefined, [...FIELDS, 'craft']))).toEqual([
      'craft of visits is on the form, and the form sets it to the record of craft. Take it off the form, or remove the link.',
    ]);
  });

  test('lets a value go to one more place only where it fits and nothing else goes', () => {
    const copies = (...of: { from: string; of: string; to: string }[]) =>
      form(() => ({ copies: of }), [...FIELDS, 'note']);
    expect(found(copies({ from: 'note', of: 'owners', to: 'name' }))).toEqual([
      'Two values go to name of owners. Remove one of them.',
    ]);
    expect(found(copies({ from: 'gone', of: 'craft', to: 'name' }))).toEqual([
      'gone goes to craft as well, and is not on the form. Add it, or remove that.',
    ]);
    expect(found(copies({ from: 'note', of: OWN, to: 'number' }))).toEqual([
      'number of visits cannot be written. Let note go elsewhere.',
    ]);
    expect(found(copies({ from: 'nights', of: OWN, to: 'note' }))[0]).toMatch(
      /^(Two values go to|nights is a whole number, and note of visits is)/,
    );
    const twice = { from: 'note', of: 'craft', to: fieldOfDestination('craft', 'name') };
    expect(found(copies(twice))[0]).toContain('cannot be written');
  });

  test('opens on a card: a row is one record', () => {
    expect(found(form(undefined, FIELDS, { opensOn: 'rows' }))).toEqual([
      'The form writes to other tables and opens on rows. Let it open on a card.',
    ]);
  });
});
