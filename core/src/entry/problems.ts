import { isBlank, isNumbered, type Problem, sameValue } from '../fields/index.ts';
import { type PreparedField, type PreparedRule, rootOf } from '../forms/index.ts';
import { say, sayCount } from '../languages/index.ts';
import { checkField } from '../tables/index.ts';
import { linePath, splitPath } from './linePath.ts';
import { presentLines } from './presence.ts';
import { isExcluded, readable } from './readable.ts';
import { readForm } from './scope.ts';
import type { EntryState, FieldState, LineAddress, LookupFailure } from './state.ts';
import { fieldState, type WorkingState } from './workingState.ts';

/** A problem that refuses the save; with `asks`, a reason lets it through. */
export interface EntryProblem extends Problem {
  readonly asks?: true;
}

/** The problems of a state, computed once: a state never changes, and a card reads them several times. */
const known = new WeakMap<EntryState, readonly EntryProblem[]>();

/**
 * Every problem that refuses the save, in the order of the form: unparsed text, required fields, limits, rules, lookups
 * that refuse, and problems that the server sent. A hidden field is only checked by the rules of its table; if it keeps its
 * value, by its limits as well, but it is never required.
 */
export function problemsOf(state: EntryState): EntryProblem[] {
  const before = known.get(state);
  if (before) return [...before];
  const found: EntryProblem[] = [];
  const hidden = filled(state.hidden);
  const broken = brokenByPlace(state);
  for (const field of state.form.fields.values()) {
    const { id } = field;
    const off = hidden?.[id] === true && isExcluded(state, id);
    if (off) {
      found.push(...(broken?.get(id) ?? NONE));
      continue;
    }
    const own = fieldState(state, id);
    if (own.unparsed) found.push({ path: id, rule: 'form', message: own.unparsed.message });
    else if (isHeldToLimits(state, field))
      for (const one of checkField(field.field, state.values[id] ?? null, isRequired(state, field, own), field.label))
        found.push(one);
    if (own.conflict)
      found.push({
        path: id,
        rule: 'dispute',
        message: say('{name} has changed this, too. Decide which value to keep.', { name: own.conflict.by }),
      });
    const failure = openFailure(own);
    if (failure?.stops) found.push({ path: id, rule: 'lookup', message: failure.message });
    for (const problem of broken?.get(id) ?? NONE) found.push(problem);
    if (state.refusals.length > 0) found.push(...state.refusals.filter((one) => one.path === id));
  }
  if (state.form.subforms.size > 0) found.push(...problemsOfLines(state, problemsOf));
  for (const problem of broken?.get(ELSEWHERE) ?? NONE) found.push(problem);
  if (state.refusals.length > 0) found.push(...state.refusals.filter((one) => !isPlace(state, one.path)));
  known.set(state, found);
  return [...found];
}

/** The lookup failure that is still open: of several records none was chosen yet. */
export const openFailure = ({ lookupFailure, picked }: FieldState): LookupFailure | undefined =>
  lookupFailure?.kind === 'several' && picked !== undefined ? undefined : lookupFailure;

const isPlace = (state: EntryState, path: string): boolean =>
  state.form.fields.has(path) || state.form.subforms.has(path);

/** The problems of a subform: too few or too many lines, those of a rule or of the server over all lines, and each line’s own. */
function problemsOfLines(state: EntryState, of: (line: EntryState) => EntryProblem[]): EntryProblem[] {
  const broken = brokenByPlace(state);
  return [...state.form.subforms.values()].flatMap(({ id, label, definition: { least, most } }): EntryProblem[] => {
    if (state.hidden[id]) return [];
    const lines = presentLines(state, id);
    const few = least !== null && lines.length < least;
    const many = most !== null && lines.length > most;
    return [
      ...(few
        ? [
            {
              path: id,
              rule: 'least',
              message: sayCount(least, '{label} needs at least one line.', '{label} needs at least {count} lines.', {
                label,
              }),
            },
          ]
        : []),
      ...(many
        ? [
            {
              path: id,
              rule: 'most',
              message: sayCount(most, '{label} holds at most one line.', '{label} holds at most {count} lines.', {
                label,
              }),
            },
          ]
        : []),
      ...(broken?.get(id) ?? NONE),
      ...state.refusals.filter((one) => one.path === id),
      ...lines.flatMap(({ key, state: own }) =>
        of(own).map((problem) => ({ ...problem, path: linePath({ subform: id, key }, problem.path) })),
      ),
    ];
  });
}

/** The place of a rule whose field is not on the form. */
const ELSEWHERE = '';

const NONE: readonly EntryProblem[] = [];

/** The map, or undefined when it is empty. */
function filled<V>(map: Readonly<Record<string, V>>): Readonly<Record<string, V>> | undefined {
  for (const _key in map) return map;
  return undefined;
}

/** The broken rules by the field at which they are shown: those that stop, and those that ask and have no reason yet. */
function brokenByPlace(state: EntryState): ReadonlyMap<string, readonly EntryProblem[]> | undefined {
  let found: Map<string, EntryProblem[]> | undefined;
  for (const rule of brokenRules(state)) {
    const problem = { path: rule.at, rule: rule.id, message: rule.message };
    const stands =
      rule.kind === 'stop' ? problem : reasonLacks(state, rule) ? { ...problem, asks: true as const } : null;
    if (!stands) continue;
    found ??= new Map();
    const place = isPlace(state, rule.at) ? rule.at : ELSEWHERE;
    const there = found.get(place);
    if (there) there.push(stands);
    else found.set(place, [stands]);
  }
  return found;
}

const reasonLacks = (state: EntryState, rule: PreparedRule): boolean =>
  isAsked(state, rule) && isBlank(state.reasons[rule.id]?.trim());

/** True for a field that is checked against its limits: a read-only one only where it is filled, and on the server. */
const isHeldToLimits = (state: EntryState, field: PreparedField): boolean =>
  field.placed
    ? !field.readOnly || field.fill !== null || state.mode === 'replayed'
    : state.mode === 'replayed' && state.opening.record === null && field.initial !== null;

/** True when a field is required now: always, or because its condition holds. */
export const isRequired = (state: EntryState, field: PreparedField, own = fieldState(state, field.id)): boolean =>
  (field.required || own.conditionallyRequired === true) && !state.hidden[field.id] && !isNumbered(field.field);

/** The rules that an entry breaks, in their order. Written as a loop: on a large form this runs at every keystroke. */
function brokenRules(state: EntryState | WorkingState): PreparedRule[] {
  const found: PreparedRule[] = [];
  for (const at in state.broken) {
    const rule = state.form.rules[Number(at)];
    if (rule) found.push(rule);
  }
  return found;
}

/**
 * True when a rule that asks needs a reason from this person: they changed a value that decides it. A record that was saved
 * with a reason once needs no other one until then.
 */
function isAsked(state: EntryState | WorkingState, rule: PreparedRule): boolean {
  if (state.opening.record === null) return true;
  const entry = readable(state);
  return [rule.at, ...rule.reads].some(
    (path) => !sameValue(readForm(entry, rootOf(path)), state.original[rootOf(path)]),
  );
}

/** An ask rule that has to be answered, in a line or in the form itself. */
export interface AskedRule {
  readonly rule: PreparedRule;
  readonly reason: string;
  readonly line?: LineAddress;
  /** The entry that breaks it. */
  readonly state: EntryState;
}

/** The ask rules that an entry and its lines break and that have to be answered, each with the reason given so far. */
export const askedRules = (state: EntryState): AskedRule[] => [
  ...ownAsked(state),
  ...[...state.form.subforms.keys()].flatMap((subform) =>
    state.hidden[subform]
      ? []
      : presentLines(state, subform).flatMap(({ key, state: line }) =>
          ownAsked(line).map((asked) => ({ ...asked, line: { subform, key } })),
        ),
  ),
];

const ownAsked = (state: EntryState): AskedRule[] =>
  brokenRules(state)
    .filter((rule) => rule.kind === 'ask' && isAsked(state, rule))
    .map((rule) => ({ rule, reason: state.reasons[rule.id] ?? '', state }));

/** The reasons that were given, for the rules that ask for one. */
export const reasonsGiven = (state: EntryState | WorkingState): { rule: string; message: string; reason: string }[] =>
  ownAsked(state as EntryState).flatMap(({ rule, reason }) =>
    isBlank(reason.trim()) ? [] : [{ rule: rule.id, message: rule.message, reason: reason.trim() }],
  );

/** True when a broken rule is shown: a field that decides it was touched or has a value. */
export const isRaised = (state: EntryState, rule: PreparedRule): boolean =>
  [rule.at, ...rule.reads].some((path) => {
    const field = rootOf(path);
    return (
      fieldState(state, field).touched === true ||
      !isBlank(state.values[field]) ||
      (state.form.subforms.has(field) && presentLines(state, field).length > 0)
    );
  });

/** The problems to show now: those of touched fields, and of rules whose fields have values. */
export function visibleProblems(state: EntryState): EntryProblem[] {
  const raised = new Set<string>();
  for (const rule of brokenRules(state)) if (isRaised(state, rule)) raised.add(rule.id);
  const shown = (problem: EntryProblem): boolean =>
    fieldState(state, problem.path).touched === true ||
    raised.has(problem.rule) ||
    (!state.form.fields.get(problem.path)?.placed && !state.form.subforms.has(problem.path)) ||
    state.refusals.includes(problem);
  if (state.form.subforms.size === 0) return problemsOf(state).filter(shown);
  const inLines = new Set(problemsOfLines(state, visibleProblems).map(nameOf));
  return problemsOf(state).filter((one) => (splitPath(one.path) ? inLines.has(nameOf(one)) : shown(one)));
}

const nameOf = ({ path, rule }: EntryProblem): string => `${path} ${rule}`;
