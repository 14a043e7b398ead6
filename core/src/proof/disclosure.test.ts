import fc from 'fast-check';
import { expect, test } from 'vitest';
import { tables as harbour, tableOf } from '../entry/fixtures/harbour.ts';
import { type DefinedForm, generateForm } from '../forms/index.ts';
import type { TableDefinition, Tables } from '../tables/index.ts';
import { confirmDisclosures, prove } from './index.ts';

const columns = Array.from({ length: 40 }, (_, n) => `a_column_with_quite_a_long_name_${String(n).padStart(2, '0')}`);
const quays = tableOf('quays', Object.fromEntries(columns.map((id) => [id, ['text']])));
const calls = tableOf('calls', { quay: ['link', { table: 'quays' }] });

/** The tables, with a reference card of some columns. */
const tablesWith = (card: readonly string[], more: Partial<TableDefinition> = {}): Tables =>
  new Map([...harbour, ['calls', calls], ['quays', { ...quays, card, ...more }]]);
const form: DefinedForm = {
  ...generateForm(calls),
  sections: generateForm(calls).sections.map((section) => ({
    ...section,
    items: [...section.items, { kind: 'card', id: 'c1', of: 'quay' }],
  })),
  page: { slug: 'calls', intro: '', thanks: '', disclosed: [] },
};
const open = (definition: DefinedForm, tables: Tables): number =>
  prove(definition, tables, '2026-08-17T09:00').filter((one) => one.rule === 'disclosure').length;

test('whatever was confirmed, a further column of a reference card is confirmed anew', () => {
  fc.assert(
    fc.property(fc.shuffledSubarray(columns, { minLength: 2 }), ([further = '', ...shown]) => {
      const confirmed = confirmDisclosures(form, tablesWith(shown));
      expect(open(confirmed, tablesWith(shown))).toBe(0);
      expect(open(confirmed, tablesWith([...shown, further]))).toBe(1);
      expect(open(confirmed, tablesWith([...shown].reverse()))).toBe(0);
    }),
  );
});

test('another title of what is chosen from is confirmed anew', () => {
  const confirmed = confirmDisclosures(form, tablesWith(['a_column_with_quite_a_long_name_00']));
  const titled = tablesWith(['a_column_with_quite_a_long_name_00'], { title: 'a_column_with_quite_a_long_name_07' });
  expect(open(confirmed, titled)).toBe(1);
});
