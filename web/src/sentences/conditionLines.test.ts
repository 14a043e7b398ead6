import { all, type Group, is } from '@fiche/core/conditions';
import { newFieldSchema } from '@fiche/core/tables';
import { expect, test } from 'vitest';
import type { Phrase } from '../parts/index.ts';
import { type LineContext, linesOf } from './conditionLines.ts';
import type { Unfinished } from './conditionSlots.ts';
import { formSides } from './sides.ts';

const field = (label: string, type: string, settings = {}) => ({
  ...newFieldSchema.parse({ label, type, settings }),
  id: label.toLowerCase(),
});
const sides = formSides(new Map(), [
  field('Waived', 'yesNo'),
  field('Kind', 'choice', { choices: ['Crane', 'Slipway'] }),
  field('Persons', 'wholeNumber'),
]);
const crane = is({ kind: 'form', path: 'kind' }, { kind: 'constant', value: 'Crane' });
const waived = is({ kind: 'form', path: 'waived' }, { kind: 'constant', value: true });

/** What a group reads as, line by line, and what its acts make of it. */
function read(group: Group, unfinished?: Unfinished) {
  let [now, begun] = [group, unfinished];
  const context: LineContext = {
    sides,
    titles: new Map(),
    unfinished,
    setUnfinished: (next) => {
      begun = next;
    },
  };
  const lines = linesOf(context, group, 0, (next) => {
    now = next;
  });
  const words = (parts: Phrase) => parts.map((part) => (typeof part === 'string' ? part : part.shown)).join('');
  return {
    text: lines.map((line) => '  '.repeat(line.depth) + words(line.parts)),
    lines,
    group: () => now,
    begun: () => begun,
  };
}

test('conditions are read one a line, joined by how they are matched, groups set in', () => {
  expect(read(all(crane, waived)).text).toEqual(['Kind is Crane,', '  and Waived is yes']);
  const nested: Group = {
    kind: 'group',
    match: 'all',
    of: [waived, { kind: 'group', match: 'any', of: [crane, waived] }],
  };
  expect(read(nested).text.slice(0, 4)).toEqual([
    'Waived is yes,',
    '  and any of these holds: ',
    '    Kind is Crane,',
    '    or Waived is yes',
  ]);
});

test('each condition is removed by itself, and put into a group with another', () => {
  const one = read(all(crane, waived));
  one.lines[0]?.remove?.();
  expect(one.group()).toEqual(all(waived));
  const other = read(all(crane, waived));
  other.lines[1]?.group?.();
  expect(other.group()).toEqual(all(crane, { kind: 'group', match: 'any', of: [waived] }));
  expect(other.begun()).toEqual({ group: '1-' });
});

test('a condition is written slot by slot: a yes/no is yes as soon as it is picked, anything else asks for its value', () => {
  const slotOf = (found: ReturnType<typeof read>, n: number) =>
    found.lines.flatMap((line) => line.parts.filter((part) => typeof part !== 'string')).at(n);
  const started = read(all(), { group: '' });
  const first = slotOf(started, 0);
  expect(first?.shown).toBe('a field');
  first?.onSet(JSON.stringify({ kind: 'form', path: 'waived' }));
  expect(started.group()).toEqual(all(waived));
  const kind = read(all(), { group: '' });
  slotOf(kind, 0)?.onSet(JSON.stringify({ kind: 'form', path: 'kind' }));
  expect(kind.group()).toEqual(all());
  const begun = kind.begun();
  expect(begun).toMatchObject({ group: '', operator: 'is' });
  const valued = read(all(), begun);
  slotOf(valued, 2)?.onSet(JSON.stringify({ kind: 'constant', value: 'Crane' }));
  expect(valued.group()).toEqual(all(crane));
});
