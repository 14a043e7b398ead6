import { pathsOf } from '../conditions/index.ts';
import { isBlank, type Value, type Values } from '../fields/index.ts';
import { ENCLOSING, type PreparedField } from '../forms/index.ts';
import { readable } from './readable.ts';
import { effectiveValues, readForm, readMover } from './scope.ts';
import type { Unparsed } from './state.ts';
import { ask, DEFERRED, deferRequest, mutable, type WorkingState } from './workingState';

/** Asks whether the value of a narrowed dropdown is among its choices; where it is not, it will be cleared. */
export function askIfChoiceFits(working: WorkingState, id: string): void {
  const isNarrowed = working.form.wiring.edges.some((edge) => edge.kind === 'narrows' && edge.to === id);
  if (isNarrowed && !isBlank(working.values[id]))
    ask(working, { kind: 'check', field: id, values: effectiveValues(readable(working)) });
}

/**
 * Looks for the choice that a text means, under the present values. While what narrows the field is itself looked for,
 * this waits: with another parent, or none, it would be another question.
 */
export function askForMatch(working: WorkingState, field: string, { text, near }: Unparsed): void {
  mutable(working, 'unparsed')[field] = { text, message: `Looking for “${text}”…`, ...(near ? { near } : {}) };
  const values = valuesThatNarrow(working, field);
  const movers = Object.keys(values);
  if (movers.some((mover) => `match:${mover}` in working.waiting)) deferRequest(working, 'match', field);
  // Without a parent that was meant to be there, the first that a text finds would be a guess.
  else
    ask(working, {
      kind: 'match',
      field,
      text,
      near: near === true && !movers.some((one) => working.unparsed[one]),
      values,
    });
}

/** What waited for a field that is still without a choice goes on without. */
export function sendDeferredMatches(working: WorkingState, parent: string): void {
  for (const edge of working.form.wiring.from.get(parent) ?? []) {
    const unread = edge.kind === 'narrows' ? working.unparsed[edge.to] : undefined;
    if (unread && working.waiting[`match:${edge.to}`] === DEFERRED) askForMatch(working, edge.to, unread);
  }
}

/** The values that decide what a dropdown offers, and no others: the same question is then asked once only. */
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

/** Asks whether a single choice is left, once everything that narrows the field is there. */
export function askForOnlyChoice(working: WorkingState, field: PreparedField): void {
  if (
    !field.narrowing.only ||
    !field.source ||
    field.readOnly ||
    working.submitted[field.id] ||
    working.hidden[field.id]
  )
    return;
  const entry = readable(working);
  if (pathsOf(field.narrowing.where, 'form').some((path) => isBlank(readForm(entry, path)))) return;
  if (pathsOf(field.narrowing.where, 'enclosing').some((path) => isBlank(readMover(entry, ENCLOSING + path)))) return;
  ask(working, { kind: 'only', field: field.id, values: effectiveValues(entry) });
}
