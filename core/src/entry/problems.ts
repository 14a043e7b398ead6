import { isBlank, type Problem, sameValue } from '../fields/index.ts';
import { type PreparedField, type PreparedRule, rootOf } from '../forms/index.ts';
import { checkField } from '../tables/index.ts';
import { type Draft, readable } from './draft.ts';
import { effectiveValues } from './scope.ts';
import type { EntryState } from './state.ts';

/** Something that stands against saving; one that `asks` is let through with a reason. */
export interface EntryProblem extends Problem {
  readonly asks?: true;
}

/**
 * All that stands against saving, in the order of the form: text that could not be read, required fields, limits,
 * rules, lookups that refuse, and what the server said. Nothing is asked of a field that is not shown.
 */
export function problemsOf(state: EntryState): EntryProblem[] {
  const byField = new Map<string, EntryProblem[]>();
  const add = (problem: EntryProblem): void => {
    const known = byField.get(problem.path);
    if (known) known.push(problem);
    else byField.set(problem.path, [problem]);
  };
  for (const field of state.form.fields.values()) {
    if (state.hidden[field.id]) continue;
    const unread = state.unread[field.id];
    if (unread) add({ path: field.id, rule: 'form', message: unread.message });
    else if (isHeldToLimits(state, field))
      for (const problem of checkField(
        field.field,
        state.values[field.id] ?? null,
        isRequired(state, field),
        field.label,
      ))
        add(problem);
    const missed = state.missed[field.id];
    if (missed?.stops) add({ path: field.id, rule: 'lookup', message: missed.message });
  }
  for (const rule of brokenRules(state))
    if (rule.kind === 'stop') add({ path: rule.at, rule: rule.id, message: rule.message });
    else if (isAsked(state, rule) && isBlank(state.reasons[rule.id]?.trim()))
      add({ path: rule.at, rule: rule.id, message: rule.message, asks: true });
  for (const problem of state.refusals) if (!state.hidden[problem.path]) add(problem);
  const inOrder = [...state.form.fields.keys()].flatMap((id) => byField.get(id) ?? []);
  const elsewhere = [...byField].flatMap(([path, found]) => (state.form.fields.has(path) ? [] : found));
  return [...inOrder, ...elsewhere];
}

/** What nobody can type into is only checked where something fills it, and on the server. */
const isHeldToLimits = (state: EntryState, field: PreparedField): boolean =>
  field.placed
    ? !field.readOnly || field.fill !== null || state.phase === 'submitted'
    : state.phase === 'submitted' && state.opening.record === null && field.initial !== null;

/** Whether a field has to be filled in now: always, or under its condition. */
export const isRequired = (state: EntryState, field: PreparedField): boolean =>
  (field.required || state.demanded[field.id] === true) && field.field.type !== 'sequence';

const brokenRules = (state: EntryState | Draft): PreparedRule[] =>
  Object.keys(state.broken).flatMap((at) => state.form.rules[Number(at)] ?? []);

/**
 * An ask rule is put to whoever changed something that decides it, as it would be saved; what was let through once stays
 * let through.
 */
function isAsked(state: EntryState | Draft, rule: PreparedRule): boolean {
  if (state.opening.record === null) return true;
  const values = effectiveValues(readable(state));
  return [rule.at, ...rule.reads].some((path) => !sameValue(values[rootOf(path)], state.original[rootOf(path)]));
}

/** The ask rules that an entry breaks and that have to be answered, each with the reason given so far. */
export const askedRules = (state: EntryState): { readonly rule: PreparedRule; readonly reason: string }[] =>
  brokenRules(state)
    .filter((rule) => rule.kind === 'ask' && isAsked(state, rule))
    .map((rule) => ({ rule, reason: state.reasons[rule.id] ?? '' }));

/** The reasons that were given, for the rules that ask for one. */
export const reasonsGiven = (state: EntryState | Draft): { rule: string; message: string; reason: string }[] =>
  askedRules(state as EntryState).flatMap(({ rule, reason }) =>
    isBlank(reason.trim()) ? [] : [{ rule: rule.id, message: rule.message, reason: reason.trim() }],
  );

/** The problems to show now: those of fields that a person has been in, and broken rules between values that are there. */
export function visibleProblems(state: EntryState): EntryProblem[] {
  const ruleIds = new Set(state.form.rules.map((rule) => rule.id));
  return problemsOf(state).filter(
    (problem) =>
      state.touched[problem.path] ||
      ruleIds.has(problem.rule) ||
      !state.form.fields.get(problem.path)?.placed ||
      state.refusals.includes(problem),
  );
}
