import type { Problem } from '../fields/index.ts';
import { brokenRule } from '../rules/index.ts';
import { checkField } from '../tables/index.ts';
import { readable } from './draft.ts';
import { readOperand } from './scope.ts';
import type { EntryState } from './state.ts';

/**
 * All that stands against saving, in the order of the form: text that could not be read, required fields, limits,
 * rules, lookups that refuse, and what the server said.
 */
export function problemsOf(state: EntryState): Problem[] {
  const byField = new Map<string, Problem[]>();
  const add = (problem: Problem): void => {
    const known = byField.get(problem.path);
    if (known) known.push(problem);
    else byField.set(problem.path, [problem]);
  };
  for (const field of state.form.fields.values()) {
    const unread = state.unread[field.id];
    if (unread) add({ path: field.id, rule: 'form', message: unread.message });
    else if (!field.readOnly || field.fill || state.phase === 'submitted')
      for (const problem of checkField(
        field.field,
        state.values[field.id] ?? null,
        field.required && !systemGiven(field),
        field.label,
      ))
        add(problem);
    const missed = state.missed[field.id];
    if (missed?.stops) add({ path: field.id, rule: 'lookup', message: missed.message });
  }
  const entry = readable(state);
  for (const rule of state.form.rules) {
    const problem = brokenRule(rule, (operand) => readOperand(entry, operand));
    if (problem) add(problem);
  }
  for (const problem of state.refusals) add(problem);
  const inOrder = [...state.form.fields.keys()].flatMap((id) => byField.get(id) ?? []);
  const elsewhere = [...byField].flatMap(([path, found]) => (state.form.fields.has(path) ? [] : found));
  return [...inOrder, ...elsewhere];
}

const systemGiven = (field: { field: { type: string } }): boolean => field.field.type === 'sequence';

/** The problems to show now: those of fields that a person has been in, and broken rules between values that are there. */
export function visibleProblems(state: EntryState): Problem[] {
  const ruleIds = new Set(state.form.rules.map((rule) => rule.id));
  return problemsOf(state).filter(
    (problem) =>
      state.touched[problem.path] ||
      ruleIds.has(problem.rule) ||
      !state.form.fields.has(problem.path) ||
      state.refusals.includes(problem),
  );
}
