import { holds } from '../conditions/index.ts';
import { giveResult } from '../expressions/index.ts';
import { isBlank, sameValue, type Value } from '../fields/index.ts';
import type { PreparedField, PreparedRule } from '../forms/index.ts';
import { breaks } from '../rules/index.ts';
import { propagate } from './propagate.ts';
import { isExcluded, readable } from './readable.ts';
import { readForm, readOperand } from './scope.ts';
import { assign, drop, fieldOf, fieldState, mutable, updateField, type WorkingState } from './workingState.ts';

/**
 * Derives what depends on changed fields: calculations, what is shown and required, and which rules are broken. Only
 * readers of a changed field are computed, in the order of the wiring, so that each is computed after what it reads; a
 * loop, which the check of a form refuses, ends after a bounded number of rounds.
 */
export function derive(working: WorkingState): void {
  if (working.changed.size === 0) return;
  const { readers, wiring, rules } = working.form;
  const stale = new Set<string>();
  const staleRules = new Set<number>();
  const spread = (): void => {
    for (const id of working.changed) {
      if (working.form.subforms.size > 0) working.changedForLines.add(id);
      const of = readers.get(id);
      for (const reader of of?.fields ?? []) stale.add(reader);
      for (const rule of of?.rules ?? []) staleRules.add(rule);
    }
    working.changed.clear();
  };
  spread();
  for (let left = 4 * working.form.fields.size + 50; stale.size > 0 && left > 0; left--) {
    const id = first(stale, wiring.rank);
    stale.delete(id);
    const field = fieldOf(working, id);
    if (field) deriveField(working, field);
    else deriveLines(working, id);
    spread();
  }
  for (const at of staleRules) {
    const rule = rules[at];
    if (!rule) continue;
    if (isBroken(working, rule)) mutable(working, 'broken')[at] = true;
    else drop(working, 'broken', at);
  }
}

/** Derives everything, as for an entry that has just been opened. */
export function deriveAll(working: WorkingState): void {
  for (const id of working.form.wiring.order) working.changed.add(id);
  for (const id of working.form.wiring.order) {
    const field = fieldOf(working, id);
    if (field) deriveField(working, field);
    else deriveLines(working, id);
  }
  derive(working);
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

function deriveField(working: WorkingState, field: PreparedField): void {
  const entry = readable(working);
  if (field.shownWhen) {
    const hidden = !holds(field.shownWhen, (operand) => readOperand(entry, operand));
    if (hidden !== (working.hidden[field.id] ?? false)) setHidden(working, field, hidden);
  }
  if (field.requiredWhen) {
    const required = holds(field.requiredWhen, (operand) => readOperand(entry, operand));
    updateField(working, field.id, { conditionallyRequired: required || undefined });
  }
  if (field.calculation) setCalculated(working, field, computed(working, field, field.calculation));
  else if (field.beginsWith && followsDefault(working, field))
    setCalculated(working, field, computed(working, field, field.beginsWith));
}

/** Shows or hides a subform: its lines are not read while it is hidden. */
function deriveLines(working: WorkingState, id: string): void {
  const subform = working.form.subforms.get(id);
  if (!subform?.shownWhen) return;
  const entry = readable(working);
  const hidden = !holds(subform.shownWhen, (operand) => readOperand(entry, operand));
  if (hidden === (working.hidden[id] ?? false)) return;
  if (hidden) mutable(working, 'hidden')[id] = true;
  else drop(working, 'hidden', id);
  working.changed.add(id);
}

/** Shows or hides a field, and propagates that to the dropdowns that it narrows: a hidden field is read as blank. */
function setHidden(working: WorkingState, field: PreparedField, hidden: boolean): void {
  if (hidden) mutable(working, 'hidden')[field.id] = true;
  else drop(working, 'hidden', field.id);
  working.changed.add(field.id);
  if (!field.keepHidden && !isBlank(working.values[field.id])) propagate(working, field.id, [], 'shown');
}

const computed = (working: WorkingState, field: PreparedField, expression: PreparedField['calculation']): Value =>
  expression
    ? giveResult(
        expression.evaluate((path) => readForm(readable(working), path), working.opening.now),
        field.field,
      )
    : null;

function setCalculated(working: WorkingState, field: PreparedField, value: Value): void {
  if (sameValue(value, working.values[field.id])) return;
  assign(working, field.id, value);
  propagate(working, field.id);
}

/** True while a calculated default applies: on a new record, until a person or a fill sets another value. */
function followsDefault(working: WorkingState, field: PreparedField): boolean {
  const { touched, submitted, origin } = fieldState(working, field.id);
  return working.opening.record === null && !touched && !submitted && !origin;
}

function isBroken(working: WorkingState, rule: PreparedRule): boolean {
  // A rule of the table guards every path into it, also where a form does not show its field.
  if (!rule.ofTable && isExcluded(working, rule.at)) return false;
  const entry = readable(working);
  return breaks(rule, {
    operand: (operand) => readOperand(entry, operand),
    expression: () => rule.expression?.evaluate((path) => readForm(entry, path), entry.now) ?? null,
  });
}
