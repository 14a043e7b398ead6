import { pathsOf } from '../conditions/index.ts';
import { isBlank, linksOne, type Value, type Values } from '../fields/index.ts';
import { ENCLOSING, type PreparedField } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import type { FieldId } from '../tables/index.ts';
import { readable } from './readable.ts';
import { effectiveValues, readForm, readMover } from './scope.ts';
import type { Unparsed } from './state.ts';
import {
  ask,
  DEFERRED,
  deferRequest,
  fieldState,
  openRequest,
  updateField,
  type WorkingState,
} from './workingState.ts';

/** Asks whether the value of a narrowed dropdown is among its choices; if it is not, the answer clears it. */
export function askIfChoiceFits(working: WorkingState, id: string): void {
  const isNarrowed = working.form.wiring.edges.some((edge) => edge.kind === 'narrows' && edge.to === id);
  if (isNarrowed && !isBlank(working.values[id]))
    ask(working, { kind: 'check', field: id, values: effectiveValues(readable(working)) });
}

/**
 * Asks for the choice whose title a text is, under the present values. While a parent of the dropdown is being matched
 * itself, the request is deferred: its answer depends on that parent.
 */
export function askForMatch(working: WorkingState, field: FieldId, { text, near }: Unparsed): void {
  updateField(working, field, {
    unparsed: { text, message: say('Looking for “{text}”…', { text }), ...(near ? { near } : {}) },
  });
  const values = valuesThatNarrow(working, field);
  const movers = Object.keys(values);
  if (movers.some((mover) => openRequest(working, 'match', mover) !== undefined)) deferRequest(working, 'match', field);
  // While a parent is unparsed, the first choice that a text finds would be a guess.
  else
    ask(working, {
      kind: 'match',
      field,
      text,
      near: near === true && !movers.some((one) => fieldState(working, one).unparsed),
      values,
    });
}

/** Sends the deferred matches that waited for a parent, after that parent was matched or not. */
export function sendDeferredMatches(working: WorkingState, parent: string): void {
  for (const edge of working.form.wiring.from.get(parent) ?? []) {
    const unparsed = edge.kind === 'narrows' ? fieldState(working, edge.to).unparsed : undefined;
    if (unparsed && openRequest(working, 'match', edge.to) === DEFERRED) askForMatch(working, edge.to, unparsed);
  }
}

/** Only the values that narrow a dropdown, so that the same question is asked once. */
function valuesThatNarrow(working: WorkingState, id: string): Values {
  const values = effectiveValues(readable(working));
  const found: Record<string, Value> = {};
  const visit = (to: string): void => {
    for (const edge of working.form.wiring.edges)
      if (edge.kind === 'narrows' && edge.to === to && !(edge.from in found) && !edge.from.startsWith(ENCLOSING)) {
        found[edge.from] = values[edge.from] ?? null;
        visit(edge.from);
      }
  };
  visit(id);
  return found;
}

/** Asks whether exactly one choice is left, once every field that narrows the dropdown has a value. */
export function askForOnlyChoice(working: WorkingState, field: PreparedField): void {
  if (
    !field.narrowing.only ||
    !field.source ||
    field.readOnly ||
    fieldState(working, field.id).submitted ||
    working.hidden[field.id]
  )
    return;
  const entry = readable(working);
  if (pathsOf(field.narrowing.where, 'form').some((path) => isBlank(readForm(entry, path)))) return;
  if (pathsOf(field.narrowing.where, 'enclosing').some((path) => isBlank(readMover(entry, ENCLOSING + path)))) return;
  ask(working, { kind: 'only', field: field.id, values: effectiveValues(entry) });
}

/** Asks for the columns of linked records that the form reads and does not have yet; they fill nothing. */
export function askFacts(working: WorkingState): void {
  for (const field of working.form.fields.values()) {
    const value = working.values[field.id];
    const known = working.linked[field.id]?.facts ?? {};
    if (linksOne(field.field) && !isBlank(value) && field.factPaths.some((path) => !(path in known)))
      ask(working, { kind: 'facts', field: field.id, id: Number(value) });
  }
}
