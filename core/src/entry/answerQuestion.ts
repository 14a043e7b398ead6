import type { Value, Values } from '../fields/index.ts';
import { choiceMeant } from '../narrowing/index.ts';
import type { FieldId } from '../tables/index.ts';
import type { ChoiceList, EntryEvent, FoundRecord, Question } from './state.ts';

/** An answer that is there at once, as in memory, or comes later, as from a database or over HTTP. */
type Given<When, T> = When extends 'later' ? Promise<T> : T;

/** Where records and choices are found. Each method answers for one field of the form that asks. */
export interface AnswerSource<When extends 'now' | 'later' = 'later'> {
  /** The choices of a dropdown under these values that contain a text, at most `limit` where it is given. */
  choices(field: FieldId, values: Values, search: string, limit?: number): Given<When, ChoiceList>;
  /** Whether the value of a dropdown is among its choices under these values. */
  fits(field: FieldId, values: Values): Given<When, boolean>;
  /** The record that a link names; none when it is gone. */
  byId(field: FieldId, id: number): Given<When, readonly FoundRecord[]>;
  /** The records whose key is the field’s value. */
  byKey(field: FieldId, key: Value): Given<When, readonly FoundRecord[]>;
}

type RecordQuestion = Exclude<Question, { kind: 'save' }>;

/** Answers a question of a running form out of a source: the event that tells the form. */
export function answerQuestion<When extends 'now' | 'later'>(
  question: RecordQuestion,
  source: AnswerSource<When>,
): Given<When, EntryEvent> {
  const { field, number } = question;
  const toEvent = <T>(answer: Given<When, T>, event: (answer: T) => EntryEvent): Given<When, EntryEvent> =>
    (answer instanceof Promise ? answer.then(event) : event(answer as T)) as Given<When, EntryEvent>;
  switch (question.kind) {
    case 'choices':
      return toEvent<ChoiceList>(source.choices(field, question.values, question.search), ({ choices, more }) => ({
        type: 'choicesArrived',
        field,
        number,
        choices,
        more,
      }));
    case 'match':
      return toEvent<ChoiceList>(source.choices(field, question.values, question.text), ({ choices }) => ({
        type: 'matched',
        field,
        number,
        choice: choiceMeant(choices, question.text, question.near),
      }));
    case 'only':
      return toEvent<ChoiceList>(source.choices(field, question.values, '', 2), ({ choices: [first, second] }) => ({
        type: 'onlyChoice',
        field,
        number,
        choice: first && !second ? first : null,
      }));
    case 'check':
      return toEvent<boolean>(source.fits(field, question.values), (fits) => ({
        type: 'checked',
        field,
        number,
        fits,
      }));
    case 'lookup':
    case 'facts':
    case 'keyLookup':
      return toEvent<readonly FoundRecord[]>(
        question.kind === 'keyLookup' ? source.byKey(field, question.key) : source.byId(field, question.id),
        (found) => ({ type: 'found', kind: question.kind, field, number, found }),
      );
  }
}
