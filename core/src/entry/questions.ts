import { pathsOf } from '../conditions/index.ts';
import { isBlank, type Value, type Values } from '../fields/index.ts';
import { ENCLOSING, type PreparedField } from '../forms/index.ts';
import { ask, type Draft, HELD, hold, own } from './draft.ts';
import { readable } from './readable.ts';
import { effectiveValues, readForm, readMover } from './scope.ts';
import type { Unread } from './state.ts';

/** Asks whether the value of a narrowed dropdown is among its choices; where it is not, it will be cleared. */
export function askWhetherItFits(draft: Draft, id: string): void {
  const isNarrowed = draft.form.wiring.edges.some((edge) => edge.kind === 'narrows' && edge.to === id);
  if (isNarrowed && !isBlank(draft.values[id]))
    ask(draft, { kind: 'check', field: id, values: effectiveValues(readable(draft)) });
}

/**
 * Looks for the choice that a text means, under the present values. While what narrows the field is itself looked for,
 * this waits: with another parent, or none, it would be another question.
 */
export function askMatch(draft: Draft, field: string, { text, near }: Unread): void {
  own(draft, 'unread')[field] = { text, message: `Looking for “${text}”…`, ...(near ? { near } : {}) };
  const values = valuesThatNarrow(draft, field);
  const movers = Object.keys(values);
  if (movers.some((mover) => `match:${mover}` in draft.waiting)) hold(draft, 'match', field);
  // Without a parent that was meant to be there, the first that a text finds would be a guess.
  else
    ask(draft, { kind: 'match', field, text, near: near === true && !movers.some((one) => draft.unread[one]), values });
}

/** What waited for a field that is still without a choice goes on without. */
export function releaseMatches(draft: Draft, parent: string): void {
  for (const edge of draft.form.wiring.from.get(parent) ?? []) {
    const unread = edge.kind === 'narrows' ? draft.unread[edge.to] : undefined;
    if (unread && draft.waiting[`match:${edge.to}`] === HELD) askMatch(draft, edge.to, unread);
  }
}

/** The values that decide what a dropdown offers, and no others: the same question is then asked once only. */
function valuesThatNarrow(draft: Draft, id: string): Values {
  const values = effectiveValues(readable(draft));
  const found: Record<string, Value> = {};
  const visit = (to: string): void => {
    for (const edge of draft.form.wiring.edges)
      if (edge.kind === 'narrows' && edge.to === to && !(edge.from in found) && !edge.from.startsWith(ENCLOSING)) {
        found[edge.from] = values[edge.from] ?? null;
        visit(edge.from);
      }
  };
  visit(id);
  return found;
}

/** Asks whether a single choice is left, once everything that narrows the field is there. */
export function chooseOnly(draft: Draft, field: PreparedField): void {
  if (!field.narrowing.only || !field.source || field.readOnly || draft.given[field.id] || draft.hidden[field.id])
    return;
  const entry = readable(draft);
  if (pathsOf(field.narrowing.where, 'form').some((path) => isBlank(readForm(entry, path)))) return;
  if (pathsOf(field.narrowing.where, 'enclosing').some((path) => isBlank(readMover(entry, ENCLOSING + path)))) return;
  ask(draft, { kind: 'only', field: field.id, values: effectiveValues(entry) });
}
