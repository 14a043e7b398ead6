import {
  type Check,
  checksOf,
  type EntryEvent,
  type EntryState,
  type Opening,
  problemsOf,
  type Request,
  reduceEntry,
  submitEntry,
} from '@fiche/core/entry';
import type { Problem } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { findById, findByKey, isAmongChoices } from '../choices/index.ts';
import type { Transaction } from '../database/index.ts';

/** More rounds of lookups than any chain of fills needs; a form that wants more has a loop. */
const MOST_ROUNDS = 50;

/**
 * Replays what was sent through the running form's own code, answers its requests out of the database, and checks
 * every chosen value against its narrowed choices. Returns the settled state and all that stands against writing it.
 */
export async function decide(
  transaction: Transaction,
  form: PreparedForm,
  opening: Opening,
  sent: Readonly<Record<string, unknown>>,
): Promise<{ state: EntryState; problems: Problem[] }> {
  const first = submitEntry(form, opening, sent);
  let { state } = first;
  const open = [...first.requests];
  for (let round = 0, request = open.shift(); request; request = open.shift(), round++) {
    if (round > MOST_ROUNDS) throw new Error(`${form.definition.label} does not settle: its fills form a loop`);
    const event = await answer(transaction, form, request);
    if (!event) continue;
    const next = reduceEntry(state, event);
    state = next.state;
    open.push(...next.requests);
  }
  const problems = problemsOf(state);
  const wrong = new Set(problems.map((problem) => problem.path));
  for (const check of checksOf(state))
    if (!wrong.has(check.field)) problems.push(...(await checkChoice(transaction, state, check)));
  return { state, problems };
}

async function answer(transaction: Transaction, form: PreparedForm, request: Request): Promise<EntryEvent | undefined> {
  const field = 'field' in request ? form.fields.get(request.field) : undefined;
  if (!field) return undefined;
  const { number } = request;
  if (request.kind === 'lookup') {
    const found = await findById(transaction, form, field, request.id);
    return { type: 'found', kind: 'lookup', field: field.id, number, found: found ? [found] : [] };
  }
  if (request.kind === 'keyLookup')
    return {
      type: 'found',
      kind: 'keyLookup',
      field: field.id,
      number,
      found: await findByKey(transaction, form, field, request.key),
    };
  return undefined;
}

async function checkChoice(
  transaction: Transaction,
  state: EntryState,
  { field, value, fresh }: Check,
): Promise<Problem[]> {
  const dropdown = state.form.fields.get(field);
  if (!dropdown) return [];
  const entry = { form: state.form, account: state.opening.account, values: state.values, linked: state.linked };
  if (await isAmongChoices(transaction, entry, dropdown, value, fresh)) return [];
  const parents = state.form.wiring.edges.flatMap((edge) =>
    edge.kind === 'narrows' && edge.to === field ? [state.form.fields.get(edge.from)?.label ?? ''] : [],
  );
  const because = parents.length > 0 ? ` with this ${parents.join(' and ')}` : '';
  return [
    {
      path: field,
      rule: 'choice',
      message: `What was chosen for ${dropdown.label} does not apply${because}. Choose one of the list.`,
    },
  ];
}
