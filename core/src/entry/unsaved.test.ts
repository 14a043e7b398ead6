import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { Desk, opening, partsOf } from './fixtures/desk.ts';
import { LineDesk, openServices } from './fixtures/lines.ts';
import {
  type EntryState,
  enterUnsaved,
  isDirty,
  presentLines,
  submission,
  typedSince,
  unsavedCopyOf,
  unsavedOf,
} from './index.ts';

const PLACES = ['harbour', 'pontoon', 'berth'];
const desk = () => new LineDesk(openServices(), opening);
const amounts = (state: EntryState) => presentLines(state, 'used').map((line) => line.state.values.amount);
/** Another desk, at which what was left at the first is taken up out of the browser’s store. */
const takenUp = (again: Desk, left: EntryState): Desk =>
  again.take(enterUnsaved(again.state, JSON.parse(JSON.stringify(unsavedOf(left)))));

describe('what was entered and not saved', () => {
  test('is taken up again as it was left: text that could not be read, links, lines', () => {
    const one = desk().choose('berth', 112).type('arrival', 'soon').settle();
    one.chooseIn(0, 'service', 2).typeIn(0, 'quantity', '2').typeIn(1, 'quantity', 'many').settle();
    const kept = JSON.parse(JSON.stringify(unsavedOf(one.state)));
    const again = desk();
    again.take(enterUnsaved(again.state, kept)).settle();
    expect(again.state.values).toEqual(one.state.values);
    expect(again.state.fields.arrival?.unparsed?.text).toBe('soon');
    expect(amounts(again.state)).toEqual([130, null]);
    expect(again.line(1).fields.quantity?.unparsed?.text).toBe('many');
  });

  test('stands as it was typed, whatever fills it, and is filled again by what is chosen from then on', () => {
    const one = new Desk().type('registration', 'GS-0421').settle();
    one.type('length', '9.5').type('phone', '').do({ type: 'unmatched', field: 'harbour', text: 'Nowhere' }).settle();
    const again = takenUp(new Desk(), one.state).settle();
    expect(again.state.values).toEqual(one.state.values);
    expect(again.state.fields.harbour?.unparsed?.text).toBe('Nowhere');
    again.type('registration', 'GS-0007').settle();
    expect(again.state.values).toMatchObject({ vessel: 6, length: 6 });
  });

  test('while a save was on its way is told apart from what was sent', () => {
    const one = new Desk().type('length', '9.5').settle();
    const sent = unsavedOf(one.state);
    expect(typedSince(sent, unsavedOf(one.state))).toBeUndefined();
    one.type('length', '8').type('phone', '0555 010 101').settle();
    const since = typedSince(sent, unsavedOf(one.state));
    expect(since?.fields.map(({ field, value }) => [field, value])).toEqual([
      ['length', 8],
      ['phone', '0555 010 101'],
    ]);
    // Lines that were sent do not come again.
    const other = desk().choose('berth', 112).chooseIn(0, 'service', 2).settle();
    const before = unsavedOf(other.state);
    other.type('arrival', 'soon').settle();
    expect(typedSince(before, unsavedOf(other.state))).toMatchObject({ fields: [{ text: 'soon' }], lines: {} });
  });

  test('however it came about, and in whatever order its questions are answered', () => {
    const acts = fc.array(
      fc.oneof(
        fc.constantFrom(
          ['registration', 'GS-0421'],
          ['registration', 'GS-0007'],
          ['registration', ''],
          ['length', '9'],
          ['length', ''],
          ['phone', '1'],
          ['phone', ''],
          ['arrival', 'soon'],
          ['note', 'a'],
        ),
        fc.constantFrom(['harbour', 'tern'], ['harbour', ''], ['pontoon', 'a'], ['berth', 'a-2'], ['berth', 'Z']),
      ),
      { maxLength: 8 },
    );
    fc.assert(
      fc.property(acts, fc.infiniteStream(fc.nat(9)), (typed, picks) => {
        const one = new Desk();
        for (const [field = '', text = ''] of typed) {
          const isChoice = PLACES.includes(field);
          if (isChoice && text === '') one.do({ type: 'changed', field, value: null });
          else if (isChoice) one.do({ type: 'textMatched', field, text, near: true });
          else one.type(field, text);
          one.settle();
        }
        const again = takenUp(new Desk(), one.state).settle(() => picks.next().value as number);
        expect(again.state.values).toEqual(one.state.values);
        const texts = ({ state }: Desk) =>
          Object.entries(partsOf(state, 'unparsed')).map(([id, { text }]) => [id, text]);
        expect(texts(again).sort()).toEqual(texts(one).sort());
        expect(partsOf(again.state, 'submitted')).toEqual({});
      }),
      { numRuns: Number(process.env.FICHE_RUNS ?? 200) },
    );
  });

  test('what is kept for the next card is nobody’s unsaved work', () => {
    const kept = unsavedCopyOf(desk().choose('berth', 112).settle().state);
    const next = enterUnsaved(desk().state, kept, true).state;
    expect(next.values).toMatchObject({ berth: 112, harbour: 1 });
    expect(isDirty(next)).toBe(false);
    expect(submission(next).values).toMatchObject({ berth: 112, harbour: 1 });
  });

  test('a copy has the values and lines as new ones', () => {
    const one = desk().choose('berth', 112).settle().chooseIn(0, 'service', 2).typeIn(0, 'quantity', '2').settle();
    const copy = enterUnsaved(desk().state, unsavedCopyOf(one.state)).state;
    expect(submission(copy).lines.used?.map((line) => [line.id, line.values?.quantity])).toEqual([[undefined, 2]]);
    expect(copy.values).toMatchObject({ berth: 112, harbour: 1 });
  });
});
