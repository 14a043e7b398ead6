import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Value } from '../fields/index.ts';
import { fieldOf, tableOf } from '../fixtures/tables.ts';
import {
  cardLines,
  cardPaths,
  fieldAtPath,
  labelTaken,
  readCardLine,
  type TableDefinition,
  tablesNamed,
  titleFields,
  titleNames,
  titleWithin,
  writeTitle,
} from './index.ts';

const FIELDS = ['name', 'registration', 'kind'];
const vessels = (title: string | null): TableDefinition =>
  tableOf(
    'quay_vessels',
    FIELDS.map((id) => fieldOf(id, 'text')),
    { title },
  );
/** The title of a vessel by a template. */
const titled = (title: string | null, values: Readonly<Record<string, Value>>): string =>
  writeTitle(
    vessels(title),
    (field) => values[field.id] ?? null,
    () => '',
  );

describe('a title', () => {
  test('is the value of a field, or a template of several', () => {
    expect(titled('name', { name: 'Petrel' })).toBe('Petrel');
    expect(titled('{name}, {kind}', { name: 'Petrel', kind: 'Yacht' })).toBe('Petrel, Yacht');
    expect(titled('Vessel {registration}', { registration: 'GS-0421' })).toBe('Vessel GS-0421');
  });

  test('leaves out what is blank, with the text before it', () => {
    expect(titled('{name}, {kind}', { name: 'Petrel' })).toBe('Petrel');
    expect(titled('{name}, {kind}', { kind: 'Yacht' })).toBe('Yacht');
    expect(titled('{name} of {kind} by {registration}', { name: 'Petrel', registration: 'GS' })).toBe('Petrel by GS');
    expect([titled('{name}, {kind}', {}), titled('Vessel {name}', {}), titled(null, {}), titled('gone', {})]).toEqual(
      Array(4).fill('(no title)'),
    );
  });

  test('closes the brackets that it opens, and no others', () => {
    const [name, registration, kind] = ['Petrel', 'GS', 'Yacht'];
    expect(titled('{name} ({registration})', { name, registration })).toBe('Petrel (GS)');
    expect(titled('{name} ({registration})', { name })).toBe('Petrel');
    expect(titled('{name} ({registration})', { registration })).toBe('GS');
    expect(titled('{name} ({registration}) {kind}', { name, kind })).toBe('Petrel Yacht');
    expect(titled('{name} ({registration}) {kind}', { name, registration })).toBe('Petrel (GS)');
    expect(titled('{name} ({registration}, {kind})', { name, kind })).toBe('Petrel, Yacht');
    expect(titled('{name} “{registration} [{kind}]”', { name, registration })).toBe('Petrel “GS”');
    expect(titled('({kind}) {name}', { name })).toBe('Petrel');
    expect(titled('({kind}) {name}', { kind })).toBe('(Yacht)');
    // An apostrophe closes nothing, and quotation marks of other languages have other halves.
    expect(titled('{name}’s {kind}', { name, kind })).toBe('Petrel’s Yacht');
    expect(titled('„{name}“ {kind}', { name })).toBe('„Petrel“');
    expect(titled('«{name}»', { name })).toBe('«Petrel»');
  });

  test('has as many brackets opened as closed, whatever of it is blank, and no loose ends', () => {
    const between = fc.constantFrom(' ', ', ', ' (', ') ', ' [', '] ', ' – ', ' “', '” ');
    const template = fc
      .tuple(fc.constantFrom('', '(', 'Vessel '), between, between, fc.constantFrom('', ')', ')]', '”'))
      .map(([before, one, two, after]) => `${before}{name}${one}{registration}${two}{kind}${after}`);
    const values = fc.record(
      Object.fromEntries(FIELDS.map((id) => [id, fc.option(fc.constantFrom('Petrel', 'GS'), { nil: null })])),
    );
    const count = (text: string, sign: string): number => text.split(sign).length - 1;
    fc.assert(
      fc.property(template, values, (title, given) => {
        const text = titled(title, given as Record<string, Value>);
        for (const [open, close] of [
          ['(', ')'],
          ['[', ']'],
          ['“', '”'],
        ] as const)
          expect(count(text, open), text).toBe(count(text, close));
        expect(text).toBe(text.trim());
        for (const value of Object.values(given)) if (value !== null) expect(text).toContain(value);
      }),
    );
  });

  test('names its fields, whether they are there or not', () => {
    expect(titleNames('{name} ({gone})')).toEqual(['name', 'gone']);
    expect(titleFields(vessels('{name} ({gone})')).map((one) => one.id)).toEqual(['name']);
    expect(titleNames('name')).toEqual(['name']);
  });

  test('is made of what somebody sees of it', () => {
    const sees = (...names: string[]) => titleWithin('{name} ({registration})', (one) => names.includes(one));
    expect([sees('name', 'registration'), sees('name'), sees(), titleWithin(null, () => true)]).toEqual([
      '{name} ({registration})',
      '{name}',
      null,
      null,
    ]);
  });
});

describe('a reference card', () => {
  const link = (id: string, table: string) => fieldOf(id, 'link', { settings: { table } });
  const tables = new Map(
    [
      tableOf('harbours', [fieldOf('name', 'text')], { title: 'name' }),
      tableOf('pontoons', [fieldOf('letter', 'text'), link('harbour', 'harbours')], { title: '{letter} of {harbour}' }),
      tableOf('berths', [fieldOf('number', 'text'), fieldOf('longest', 'decimal'), link('pontoon', 'pontoons')], {
        title: 'number',
        card: ['longest', 'pontoon', 'pontoon.harbour', 'gone', 'pontoon.gone'],
      }),
    ].map((one) => [one.id, one]),
  );
  const berths = tables.get('berths') as TableDefinition;
  const facts = { longest: 12.5, 'pontoon.letter': 'A', 'pontoon.harbour.name': 'Gannet Quay' };

  test('has its lines in order, without those that have gone, and asks for the columns that they need', () => {
    expect(cardLines(tables, berths).map((one) => one.label)).toEqual(['longest', 'pontoon', 'pontoon’s harbour']);
    expect([...new Set(cardPaths(tables, berths))]).toEqual(['longest', 'pontoon.letter', 'pontoon.harbour.name']);
  });

  test('reads links by the titles of their records; one that tells nothing is blank, not untitled', () => {
    const read = (of: Readonly<Record<string, Value>>) =>
      cardLines(tables, berths).map((line) => readCardLine(tables, line, of));
    expect(read(facts)).toEqual(['12.50', 'A of Gannet Quay', 'Gannet Quay']);
    expect(read({ 'pontoon.letter': 'A' })).toEqual(['', 'A', '']);
    expect(read({})).toEqual(['', '', '']);
  });

  test('goes along links only', () => {
    expect(fieldAtPath(tables, 'berths', 'pontoon.harbour.name')?.id).toBe('name');
    expect([fieldAtPath(tables, 'berths', 'number.letter'), fieldAtPath(tables, 'gone', 'number')]).toEqual([
      undefined,
      undefined,
    ]);
  });
});

test('labels of a table differ, whatever their case', () => {
  expect(labelTaken('Berth', ['Harbour', 'BERTH'], 'label')?.message).toBe(
    '“Berth” is there already. Give this one another label.',
  );
  expect(labelTaken('Berths', ['Harbour', 'BERTH'], 'label')).toBeUndefined();
});

test('every table that a definition names is found once, wherever it stands', () => {
  const definition = {
    table: 'stays',
    fill: { table: 'vessels' },
    subforms: [{ settings: { level: { table: 'faults' } } }, { table: 'stays' }],
  };
  expect(tablesNamed(definition).sort()).toEqual(['faults', 'stays', 'vessels']);
  expect(tablesNamed(null)).toEqual([]);
});
