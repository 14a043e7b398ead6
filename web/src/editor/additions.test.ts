import { expect, test } from 'vitest';
import { additionsTo, takenIds } from './additions.ts';
import { stayForm } from './fixtures.ts';

const labels = (...args: Parameters<typeof additionsTo>): string[] =>
  additionsTo(...args).map((one) => `${one.label} (${one.detail})`);

test('columns that are not on the form come first, then tables whose records can be its lines, then words', () => {
  expect(labels(stayForm('none'), undefined, '')).toEqual([
    'Berth (link)',
    'Arrival (date and time)',
    'Note (text)',
    'Services used (subform: its Stay is this record)',
    'Heading (words above fields)',
    'Note (words that explain)',
    'Section (with a heading of its own)',
  ]);
  expect(labels(stayForm('all', ['quay_used.stay']), undefined, '')).toEqual([
    'Heading (words above fields)',
    'Note (words that explain)',
    'Section (with a heading of its own)',
  ]);
});

test('a name that is not there yet can be made: a field of a plain type, of any type, or lines', () => {
  const kinds = additionsTo(stayForm('all'), undefined, 'Deposit').map((one) => one.kind);
  expect(kinds.slice(0, 6)).toEqual(Array(6).fill('newField'));
  expect(kinds.slice(6)).toEqual(['newFieldOfType', 'newLines']);
  // The name of a field that is on the form makes no second one.
  expect(additionsTo(stayForm('all'), undefined, 'berth').map((one) => one.kind)).toEqual(['newLines']);
  // Whoever writes the whole word of something else means it.
  expect(additionsTo(stayForm('all'), undefined, 'section')[0]?.kind).toBe('section');
});

test('with a column of the lines selected, columns and new fields are those of the lines', () => {
  const form = stayForm('all', ['quay_used.stay']);
  const [subform = ''] = form.subforms.keys();
  const found = additionsTo(form, `${subform}/quantity`, 'Unit');
  expect(found.every((one) => 'lines' in one && one.lines === subform)).toBe(true);
  expect(found.map((one) => one.detail)).toContain('text, of Services used');
  expect(found.map((one) => one.kind)).not.toContain('newLines');
  expect(takenIds(form)).toContain(subform);
});
