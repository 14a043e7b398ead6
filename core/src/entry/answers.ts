import { isBlank } from '../fields/index.ts';
import { ENCLOSING } from '../forms/index.ts';
import { say, sayOwn } from '../languages/index.ts';
import type { Choice } from '../narrowing/index.ts';
import type { RecordId } from '../tables/index.ts';
import { OPEN } from './initial.ts';
import { resumeLines } from './lines.ts';
import { takeKeyed } from './lookups.ts';
import { applyFill, propagate, propagateToChild, useLinked } from './propagate.ts';
import { askFacts, askForMatch, askForOnlyChoice, sendDeferredMatches } from './questions.ts';
import type { EntryEvent, FieldRequest } from './state.ts';
import { linkedRecordOf } from './typing.ts';
import {
  acceptAnswer,
  assign,
  closeRequest,
  fieldOf,
  fieldState,
  mutable,
  openRequests,
  updateField,
  type WorkingState,
} from './workingState.ts';

/** The enclosing record changed: re-evaluates what this line reads from it. */
export function updateEnclosing(
  working: WorkingState,
  { enclosing, moved }: Extract<EntryEvent, { type: 'enclosingChanged' }>,
): void {
  working.opening = { ...working.opening, enclosing };
  for (const field of moved) {
    const mover = ENCLOSING + field;
    working.changed.add(mover);
    for (const edge of working.form.wiring.from.get(mover) ?? [])
      if (edge.kind === 'narrows') propagateToChild(working, edge.to, mover, [mover]);
  }
}

/** Handles a request without an answer: the message says so, and the next leaving or saving asks again. */
export function handleFailure(working: WorkingState, event: Extract<EntryEvent, { type: 'failed' }>): void {
  if (!acceptAnswer(working, event.kind, event.field, event.number)) return;
  if (working.phase.kind === 'settling') working.phase = OPEN;
  if (event.kind === 'choices' || event.kind === 'only') return;
  if (event.kind === 'match') {
    updateField(working, event.field, {
      unparsed: {
        ...(fieldState(working, event.field).unparsed ?? { text: '' }),
        message: say('The server did not answer. Choose one of the list.'),
      },
    });
    sendDeferredMatches(working, event.field);
    return;
  }
  const message = say('The server did not answer. Leave this field again to retry.');
  updateField(working, event.field, { propagated: undefined, lookupFailure: { kind: 'none', message, stops: false } });
}

/** Applies the answer to whether one choice is left: it is chosen, where the field is still blank. */
export function takeOnly(working: WorkingState, id: string, choice: Choice | null): void {
  const field = fieldOf(working, id);
  if (!field || !choice || !isBlank(working.values[id]) || fieldState(working, id).unparsed) return;
  assign(working, id, choice.value, linkedRecordOf(field, choice));
  if (working.mode === 'filled')
    updateField(working, id, {
      notice: say('“{choice}” was chosen: it is the only choice left.', {
        choice: field.source?.column === undefined ? choice.title : sayOwn(choice.title),
      }),
    });
  propagate(working, id);
}

/** Fills from the record that a person chose among several. */
export function takePicked(working: WorkingState, id: string, record: RecordId): void {
  const field = fieldOf(working, id);
  const failure = fieldState(working, id).lookupFailure;
  const found = failure?.kind === 'several' ? failure.found.find((one) => one.id === record) : undefined;
  if (!field?.fill || !found) return;
  updateField(working, id, { picked: record });
  applyFill(working, id, field.fill, found, [id]);
}

/** How a request of each kind is made again for a field. Choices are asked for when their list is opened, saves by a person. */
const RESEND: Readonly<Partial<Record<FieldRequest, (working: WorkingState, id: string) => void>>> = {
  lookup: propagate,
  keyLookup: propagate,
  check: (working, id) => propagateToChild(working, id, firstParent(working, id), []),
  only(working, id) {
    const field = fieldOf(working, id);
    if (field) askForOnlyChoice(working, field);
  },
  match(working, id) {
    const unparsed = fieldState(working, id).unparsed;
    if (unparsed) askForMatch(working, id, unparsed);
  },
  facts: askFacts,
};

/** Sends all open requests again, also those of lines. */
export function resendRequests(working: WorkingState): void {
  const open = Object.keys(working.fields).flatMap((id) => openRequests(working, id).map((kind) => ({ kind, id })));
  for (const { kind, id } of open) {
    closeRequest(working, kind, id);
    RESEND[kind]?.(working, id);
  }
  for (const subform of working.form.subforms.keys()) resumeLines(working, subform);
}

/** The first field that narrows a dropdown; the dropdown itself where none does. */
export const firstParent = (working: WorkingState, id: string): string =>
  working.form.wiring.edges.find((edge) => edge.kind === 'narrows' && edge.to === id)?.from ?? id;

/** Applies the records that a lookup found. */
export function takeFound(working: WorkingState, event: Extract<EntryEvent, { type: 'found' }>): void {
  const field = fieldOf(working, event.field);
  if (!field) return;
  const [found] = event.found;
  if (event.kind === 'facts') {
    if (found) mutable(working, 'linked')[field.id] = { title: found.title, facts: found.facts };
    working.changed.add(field.id);
    return;
  }
  if (event.kind === 'lookup') {
    if (!found) {
      const message = say('This record is not there any more. Choose another.');
      updateField(working, field.id, { lookupFailure: { kind: 'none', message, stops: true } });
      return;
    }
    mutable(working, 'linked')[field.id] = { title: found.title, facts: found.facts };
    working.changed.add(field.id);
    useLinked(working, field, found, [field.id]);
    return;
  }
  if (field.fill) takeKeyed(working, field, field.fill, event.found);
}
