import { holds } from '../conditions/index.ts';
import { giveResult } from '../expressions/index.ts';
import { isBlank, sameValue, type Value } from '../fields/index.ts';
import type { PreparedField, PreparedRule } from '../forms/index.ts';
import { breaks } from '../rules/index.ts';
import { assign, type Draft, drop, fieldOf, own } from './draft.ts';
import { isOff, readable } from './readable.ts';
import { readForm, readOperand } from './scope.ts';
import { settle } from './settle.ts';

/**
 * Brings up to date all that follows from the fields that moved: calculations, what is shown and required, and which
 * rules are broken. Only what the wiring says reads a moved field is computed, in the order of the wiring, so that each
 * is computed after what it reads; a loop, which the proof refuses, ends after a bounded number of rounds.
 */
export function derive(draft: Draft): void {
  if (draft.moved.size === 0) return;
  const { readers, wiring, rules } = draft.form;
  const stale = new Set<string>();
  const staleRules = new Set<number>();
  const spread = (): void => {
    for (const id of draft.moved) {
      if (draft.form.subforms.size > 0) draft.passed.add(id);
      const of = readers.get(id);
      for (const reader of of?.fields ?? []) stale.add(reader);
      for (const rule of of?.rules ?? []) staleRules.add(rule);
    }
    draft.moved.clear();
  };
  spread();
  for (let left = 4 * draft.form.fields.size + 50; stale.size > 0 && left > 0; left--) {
    const id = first(stale, wiring.rank);
    stale.delete(id);
    const field = fieldOf(draft, id);
    if (field) deriveField(draft, field);
    else deriveLines(draft, id);
    spread();
  }
  for (const at of staleRules) {
    const rule = rules[at];
    if (!rule) continue;
    if (isBroken(draft, rule)) own(draft, 'broken')[at] = true;
    else drop(draft, 'broken', at);
  }
}

/** Computes everything that can be derived, as for an entry that has just been opened. */
export function deriveAll(draft: Draft): void {
  for (const id of draft.form.wiring.order) draft.moved.add(id);
  for (const id of draft.form.wiring.order) {
    const field = fieldOf(draft, id);
    if (field) deriveField(draft, field);
    else deriveLines(draft, id);
  }
  derive(draft);
}

function first(stale: ReadonlySet<string>, rank: ReadonlyMap<string, number>): string {
  let found = '';
  let best = Number.POSITIVE_INFINITY;
  for (const id of stale) {
    const place = rank.get(id) ?? 0;
    if (place < best) [found, best] = [id, place];
  }
  return found;
}

function deriveField(draft: Draft, field: PreparedField): void {
  const entry = readable(draft);
  if (field.shownWhen) {
    const hidden = !holds(field.shownWhen, (operand) => readOperand(entry, operand));
    if (hidden !== (draft.hidden[field.id] ?? false)) turn(draft, field, hidden);
  }
  if (field.requiredWhen) {
    if (holds(field.requiredWhen, (operand) => readOperand(entry, operand))) own(draft, 'demanded')[field.id] = true;
    else drop(draft, 'demanded', field.id);
  }
  if (field.calculation) give(draft, field, computed(draft, field, field.calculation));
  else if (field.beginsWith && followsDefault(draft, field))
    give(draft, field, computed(draft, field, field.beginsWith));
}

/** Shows or hides a subform: its lines are not read while it is hidden. */
function deriveLines(draft: Draft, id: string): void {
  const subform = draft.form.subforms.get(id);
  if (!subform?.shownWhen) return;
  const entry = readable(draft);
  const hidden = !holds(subform.shownWhen, (operand) => readOperand(entry, operand));
  if (hidden === (draft.hidden[id] ?? false)) return;
  if (hidden) own(draft, 'hidden')[id] = true;
  else drop(draft, 'hidden', id);
  draft.moved.add(id);
}

/** Shows or hides a field. What it narrows is settled anew: a hidden field reads as blank. */
function turn(draft: Draft, field: PreparedField, hidden: boolean): void {
  if (hidden) own(draft, 'hidden')[field.id] = true;
  else drop(draft, 'hidden', field.id);
  draft.moved.add(field.id);
  if (!field.keepHidden && !isBlank(draft.values[field.id])) settle(draft, field.id, [], 'shown');
}

const computed = (draft: Draft, field: PreparedField, expression: PreparedField['calculation']): Value =>
  expression
    ? giveResult(
        expression.evaluate((path) => readForm(readable(draft), path), draft.opening.now),
        field.field,
      )
    : null;

function give(draft: Draft, field: PreparedField, value: Value): void {
  if (sameValue(value, draft.values[field.id])) return;
  assign(draft, field.id, value);
  settle(draft, field.id);
}

/** A calculated default is followed on a new record, until a person or a fill has put something else there. */
const followsDefault = (draft: Draft, field: PreparedField): boolean =>
  draft.opening.record === null && !draft.touched[field.id] && !draft.given[field.id] && !draft.origins[field.id];

function isBroken(draft: Draft, rule: PreparedRule): boolean {
  // A rule of the table guards every path into it, also where a form does not show its field.
  if (!rule.ofTable && isOff(draft, rule.at)) return false;
  const entry = readable(draft);
  return breaks(rule, {
    operand: (operand) => readOperand(entry, operand),
    expression: () => rule.expression?.evaluate((path) => readForm(entry, path), entry.now) ?? null,
  });
}
