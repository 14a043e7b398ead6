import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { choiceMeant } from '../narrowing/index.ts';
import { Desk, partsOf } from './fixtures/desk.ts';
import { visibleProblems } from './index.ts';

/** Leaves a dropdown with text whose choices were not there yet, as a quick typist does. */
class QuickDesk extends Desk {
  leave(field: string, text: string): this {
    return this.do({ type: 'textMatched', field, text, near: true }).do({ type: 'left', field });
  }
}

const PLACES = ['harbour', 'pontoon', 'berth'] as const;
const placed = (desk: Desk) => PLACES.map((field) => desk.state.values[field] ?? null);
const SHEETS = [
  [
    ['gannet', 'a', 'A-1'],
    [1, 11, 111],
  ],
  [
    ['Gannet Quay', 'A', '2'],
    [1, 11, 112],
  ],
  [
    ['quay', 'b', 'b-1'],
    [1, 12, 121],
  ],
  [
    ['tern', 'A', 'a-1'],
    [2, 21, 211],
  ],
] as const;

describe('text left in a dropdown before its choices are there', () => {
  test('however answers and typing fall together, each means what it means under what narrows it', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...SHEETS),
        fc.array(fc.nat(3), { maxLength: 12 }),
        fc.infiniteStream(fc.nat(9)),
        ([texts, meant], between, picks) => {
          const desk = new QuickDesk();
          const pick = () => picks.next().value as number;
          PLACES.forEach((field, n) => {
            desk.leave(field, texts[n] ?? '');
            for (let left = between[n] ?? 0; left > 0 && desk.open.length > 0; left--) desk.answerOne(pick());
          });
          desk.settle(pick);
          expect(placed(desk)).toEqual(meant);
          expect(partsOf(desk.state, 'unparsed')).toEqual({});
          expect(partsOf(desk.state, 'notice')).toEqual({});
        },
      ),
    );
  });

  test('a child waits for its parent to be found, and a save for both', () => {
    const desk = new QuickDesk().leave('harbour', 'tern').leave('pontoon', 'a').leave('berth', 'a-1');
    expect(desk.open.filter((one) => one.request.kind === 'match')).toHaveLength(1);
    desk.do({ type: 'savePressed' });
    expect(desk.saves).toHaveLength(0);
    desk.settle();
    expect(desk.saves[0]).toMatchObject({ values: { harbour: 2, pontoon: 21, berth: 211 } });
  });

  test('what no choice is called stays as typed, and is found as soon as its parent is', () => {
    const desk = new QuickDesk().leave('pontoon', 'C').leave('berth', 'A-1').settle();
    // Two berths are called so: without its pontoon, nothing is guessed.
    expect(placed(desk)).toEqual([null, null, null]);
    expect(desk.state.fields.pontoon?.unparsed?.message).toBe('No choice is called “C”. Choose one of the list.');
    expect(desk.state.fields.berth?.unparsed?.text).toBe('A-1');
    desk.choose('pontoon', 21).settle();
    expect(placed(desk)).toEqual([2, 21, 211]);
    // Nor is it looked for anew by taking a parent away.
    desk.do({ type: 'unmatched', field: 'berth', text: 'A-2' }).do({ type: 'changed', field: 'pontoon', value: null });
    expect(desk.settle().state.fields.berth?.unparsed?.text).toBe('A-2');
    desk.choose('pontoon', 21).settle();
    desk.do({ type: 'changed', field: 'berth', value: null }).settle();
    expect(visibleProblems(desk.state)).toEqual([]);
  });

  test('what stood there stands while another is looked for, and what hangs on it with it', () => {
    const desk = new QuickDesk().leave('harbour', 'gannet').leave('pontoon', 'A').leave('berth', 'A-2').settle();
    desk.leave('pontoon', 'a');
    expect(placed(desk)).toEqual([1, 11, 112]);
    desk.settle();
    expect(placed(desk)).toEqual([1, 11, 112]);
    desk.leave('pontoon', 'b').settle();
    expect(placed(desk)).toEqual([1, 12, null]);
    expect(desk.state.fields.berth?.notice).toContain('“A-2” was cleared');
  });

  test('a parent that was typed wrong is not filled in behind its back', () => {
    const desk = new QuickDesk().do({ type: 'unmatched', field: 'harbour', text: 'Nowhere' }).choose('pontoon', 21);
    desk.settle();
    expect(desk.state.fields.harbour?.unparsed?.text).toBe('Nowhere');
    expect(desk.state.values.harbour).toBe(null);
  });

  test('an answer that fails says so at its field, and what waited for it goes on', () => {
    const desk = new QuickDesk().leave('harbour', 'tern').leave('pontoon', 'A');
    const { request } = desk.open.splice(0, 1)[0] ?? {};
    if (request?.kind !== 'match') throw new Error('the harbour was not looked for');
    desk.do({ type: 'failed', kind: 'match', field: 'harbour', number: request.number }).settle();
    expect(desk.state.fields.harbour?.unparsed?.message).toContain('The server did not answer');
    expect(desk.state.fields.pontoon?.unparsed?.message).toContain('No choice is called “A”');
    expect(partsOf(desk.state, 'requests')).toEqual({});
  });
});

describe('the choice that a text means', () => {
  const choice = (value: number, title: string, ...shown: string[]) => ({ value, title, shown, facts: {} });
  const berths = [choice(1, 'A-10', 'Gannet'), choice(2, 'A-1', 'Gannet'), choice(3, 'A-1', 'Tern')];
  test('is the one called so before the first that it finds, also by what is shown beside it', () => {
    expect(choiceMeant(berths, 'a-1', true)?.value).toBe(2);
    expect(choiceMeant(berths, 'tern 1', true)?.value).toBe(3);
    expect(choiceMeant(berths, 'C', true)).toBe(null);
  });
  test('is none where a pasted title could be two', () => {
    expect(choiceMeant(berths, 'A-1', false)).toBe(null);
    expect(choiceMeant(berths, ' a-10 ', false)?.value).toBe(1);
    expect(choiceMeant(berths, 'A', false)).toBe(null);
  });
});
