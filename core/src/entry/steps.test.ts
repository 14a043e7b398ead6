import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { isField } from '../forms/index.ts';
import { Desk, opening } from './fixtures/desk.ts';
import { stayForm } from './fixtures/harbour.ts';
import { answeredWords, openEntry, prefilled, problemsOf, problemsOfStep, stepsOf, visibleProblems } from './index.ts';

/** The form of stays in two sections; the second is shown once a registration is typed. */
const inSteps = stayForm((form) => {
  const items = form.sections.flatMap((section) => section.items);
  const isWhere = (id: string): boolean => ['harbour', 'pontoon', 'berth', 'registration'].includes(id);
  const [section] = form.sections;
  if (!section) throw new Error('The form has no section');
  return {
    ...form,
    sections: [
      { ...section, id: 'where', label: 'Where', items: items.filter((one) => isField(one) && isWhere(one.field)) },
      { ...section, id: 'when', label: 'When', items: items.filter((one) => isField(one) && !isWhere(one.field)) },
    ],
  };
});

describe('a form in steps', () => {
  test('a step that is left shows its problems, and those of no other step', () => {
    const desk = new Desk(inSteps);
    const [where] = stepsOf(desk.state);
    expect(stepsOf(desk.state).map((one) => one.label)).toEqual(['Where', 'When']);
    expect(visibleProblems(desk.state)).toEqual([]);
    desk.do({ type: 'stepLeft', items: where?.items ?? [] });
    expect(visibleProblems(desk.state).map((one) => one.path)).toEqual(['harbour']);
    desk.choose('harbour', 1).settle();
    expect(where && problemsOfStep(desk.state, where)).toEqual([]);
  });

  test('every problem of a field on the form stands in exactly one step', () => {
    const text = fc.constantFrom('', 'x', '17 Aug 2026 10:00', '12', 'GS-0421');
    const typed = fc.array(fc.tuple(fc.constantFrom('arrival', 'departure', 'length', 'registration'), text));
    fc.assert(
      fc.property(typed, (all) => {
        const desk = new Desk(inSteps);
        for (const [field, words] of all) desk.type(field, words).settle();
        const there = stepsOf(desk.state).flatMap((one) => problemsOfStep(desk.state, one));
        const placed = problemsOf(desk.state).filter(({ path }) => desk.state.form.fields.get(path)?.placed);
        expect([...there].sort()).toEqual([...placed].sort());
      }),
    );
  });
});

describe('values of an address', () => {
  const begun = (texts: Record<string, string>): Desk => {
    const desk = new Desk();
    return desk.take(prefilled(openEntry(stayForm(), opening).state, texts)).settle();
  };

  test('are matched like pasted ones, parents first whatever their order', () => {
    const { values } = begun({ berth: 'A-1', pontoon: 'A', harbour: 'Gannet Quay', note: 'By the address' }).state;
    expect([values.harbour, values.pontoon, values.berth, values.note]).toEqual([1, 11, 111, 'By the address']);
  });

  test('that narrowing refuses stay as text with what is wrong', () => {
    const { state } = begun({ harbour: 'Tern Cove', pontoon: 'B' });
    expect(state.values).toMatchObject({ harbour: 2, pontoon: null });
    expect(state.fields.pontoon?.unparsed?.message).toContain('No choice is called “B”.');
  });

  test('fill what hangs on them, and leave out what is no field that is written here', () => {
    const { state } = begun({ registration: 'GS-0421', vessel: '1', unknown: 'x', constructor: 'x' });
    expect(state.values.registration).toBe('GS-0421');
    expect(Object.keys(state.values)).not.toContain('unknown');
  });
});

test('what was answered is told in the order of the form, and blanks are not', () => {
  const desk = new Desk().choose('harbour', 1).settle().type('note', 'Late').settle();
  const told = answeredWords(desk.state);
  expect(told).toContainEqual({ label: 'note', value: 'Late' });
  expect(told).toContainEqual({ label: 'harbour', value: 'Gannet Quay' });
  expect(told.every((one) => one.value !== '')).toBe(true);
});
