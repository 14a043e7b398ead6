import { itemKey } from '@fiche/core/forms';
import { expect, test } from 'vitest';
import { stayForm } from './fixtures.ts';
import { allEdges, outlineKeys, outlineLines } from './outlineLines.ts';

const form = stayForm('all', ['quay_used.stay']);
const [subform = ''] = form.subforms.keys();
const items = form.definition.sections.flatMap((section) => section.items);
const lines = items.flatMap((item) => outlineLines(form, item));

test('every thing of the form has its line, a subform those of its columns below it', () => {
  expect(lines.map(({ label, kind, ofLines }) => `${ofLines ? '- ' : ''}${label}: ${kind}`)).toEqual([
    'Berth: link',
    'Arrival: date and time',
    'Note: text',
    'Services used: lines, as rows',
    '- Service: text',
    '- Quantity: decimal',
  ]);
  expect(lines.at(-1)?.key).toBe(`${subform}/quantity`);
});

test('words, reference cards and fields that have gone say what they are', () => {
  const kinds = [
    { kind: 'heading', id: 'a', text: 'Arrival' },
    { kind: 'card', id: 'b', of: 'berth' },
  ].map((item) => outlineLines(form, item as (typeof items)[number])[0]);
  expect(kinds.map((line) => [line?.key, line?.label, line?.kind])).toEqual([
    ['#a', 'Arrival', 'heading'],
    ['#b', 'Berth', 'reference card'],
  ]);
  const gone = { ...(items[0] as (typeof items)[number]), field: 'quay' };
  expect(outlineLines(form, gone as (typeof items)[number])[0]).toMatchObject({ label: 'quay', kind: 'gone' });
});

test('keys go from top to bottom, sections included, and each is named once', () => {
  const keys = outlineKeys(form.definition, form);
  expect(keys[0]).toBe(`§${form.definition.sections[0]?.id}`);
  expect(keys.slice(1)).toEqual(lines.map((line) => line.key));
  expect(new Set(keys).size).toBe(keys.length);
  expect(keys).toContain(itemKey(items[0] as (typeof items)[number]));
});

test('the wires of the lines are named by their subform', () => {
  for (const edge of allEdges(form))
    for (const end of [edge.from, edge.to]) expect(outlineKeys(form.definition, form)).toContain(end);
});
