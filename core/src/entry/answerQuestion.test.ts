import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Choice } from '../narrowing/index.ts';
import { type AnswerSource, answerQuestion } from './answerQuestion.ts';
import type { Question } from './state.ts';

const choice = (title: string, value: number): Choice => ({ title, value, facts: {}, shown: [] });
const CHOICES = [choice('A-1', 1), choice('A-10', 2), choice('B-1', 3)];
const found = (id: number) => ({ id, title: `#${id}`, facts: {} });

/** Keeps what it was asked, so that a test sees which method answered. */
const sourceOf = (choices: readonly Choice[]) => {
  const asked: unknown[] = [];
  const source: AnswerSource<'now'> = {
    choices(field, values, search, limit) {
      asked.push(['choices', field, values, search, limit]);
      return { choices: choices.slice(0, limit), more: limit !== undefined && choices.length > limit };
    },
    fits(field, values) {
      asked.push(['fits', field, values]);
      return values[field] === 1;
    },
    byId(field, id) {
      asked.push(['byId', field, id]);
      return [found(id)];
    },
    byKey(field, key) {
      asked.push(['byKey', field, key]);
      return [found(7), found(8)];
    },
  };
  return { asked, source };
};
const later = (source: AnswerSource<'now'>): AnswerSource => ({
  choices: async (...args) => source.choices(...args),
  fits: async (...args) => source.fits(...args),
  byId: async (...args) => source.byId(...args),
  byKey: async (...args) => source.byKey(...args),
});
type Asked = Exclude<Question, { kind: 'save' }>;
const QUESTIONS: readonly Asked[] = [
  { kind: 'choices', number: 1, field: 'berth', values: { pontoon: 2 }, search: 'a' },
  { kind: 'match', number: 2, field: 'berth', values: {}, text: 'b-1', near: false },
  { kind: 'match', number: 3, field: 'berth', values: {}, text: 'none such', near: false },
  { kind: 'only', number: 4, field: 'berth', values: {} },
  { kind: 'check', number: 5, field: 'berth', values: { berth: 1 } },
  { kind: 'check', number: 6, field: 'berth', values: { berth: 2 } },
  { kind: 'lookup', number: 7, field: 'vessel', id: 12 },
  { kind: 'facts', number: 8, field: 'vessel', id: 13 },
  { kind: 'keyLookup', number: 9, field: 'registration', key: 'GS-0007' },
];

test('each question is answered by one method, and told under its own number and field', () => {
  const { source } = sourceOf(CHOICES);
  const events = QUESTIONS.map((question) => answerQuestion<'now'>(question, source));
  expect(events).toEqual([
    { type: 'choicesArrived', number: 1, field: 'berth', choices: CHOICES, more: false },
    { type: 'matched', number: 2, field: 'berth', choice: CHOICES[2] },
    { type: 'matched', number: 3, field: 'berth', choice: null },
    { type: 'onlyChoice', number: 4, field: 'berth', choice: null },
    { type: 'checked', number: 5, field: 'berth', fits: true },
    { type: 'checked', number: 6, field: 'berth', fits: false },
    { type: 'found', kind: 'lookup', number: 7, field: 'vessel', found: [found(12)] },
    { type: 'found', kind: 'facts', number: 8, field: 'vessel', found: [found(13)] },
    { type: 'found', kind: 'keyLookup', number: 9, field: 'registration', found: [found(7), found(8)] },
  ]);
});

test('one choice is left only when there is exactly one; no more than two are asked for', () => {
  const only = (choices: readonly Choice[]) => {
    const { asked, source } = sourceOf(choices);
    const event = answerQuestion<'now'>({ kind: 'only', number: 1, field: 'berth', values: {} }, source);
    expect(asked).toEqual([['choices', 'berth', {}, '', 2]]);
    return event.type === 'onlyChoice' && event.choice;
  };
  expect(only([])).toBeNull();
  expect(only(CHOICES.slice(1, 2))).toEqual(CHOICES[1]);
  expect(only(CHOICES)).toBeNull();
});

test('a source that answers later tells the same', async () => {
  await fc.assert(
    fc.asyncProperty(fc.constantFrom(...QUESTIONS), fc.subarray(CHOICES), async (question, choices) => {
      const [now, then] = [sourceOf(choices), sourceOf(choices)];
      expect(await answerQuestion(question, later(then.source))).toEqual(answerQuestion<'now'>(question, now.source));
      expect(then.asked).toEqual(now.asked);
    }),
  );
});

test('a source that fails fails the question', async () => {
  const { source } = sourceOf(CHOICES);
  const broken = { ...later(source), fits: () => Promise.reject(new Error('The connection was lost')) };
  const question: Asked = { kind: 'check', number: 1, field: 'berth', values: {} };
  await expect(answerQuestion(question, broken)).rejects.toThrow('The connection was lost');
});
