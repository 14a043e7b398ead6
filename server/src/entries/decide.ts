import {
  checksOf,
  type EntryEvent,
  type EntryState,
  type Linked,
  type Opening,
  problemsOf,
  type Request,
  readable,
  reduceEntry,
  type Sent,
  submitEntry,
} from '@fiche/core/entry';
import type { Problem } from '@fiche/core/fields';
import type { PreparedField, PreparedForm } from '@fiche/core/forms';
import { findAmongChoices, findById, findByKey, findChoices, readableOf } from '../choices/index.ts';
import type { Database, Transaction } from '../database/index.ts';

/** More rounds of lookups than any chain of fills needs; a form that wants more has a loop. */
const MOST_ROUNDS = 50;

/**
 * Replays what was sent through the running form's own code, answers its requests out of the database, and checks
 * every chosen value against its narrowed choices. Returns the settled state, all that stands against writing
 * it, and the linked records that were checked.
 */
export async function decide(
  database: Database | Transaction,
  form: PreparedForm,
  opening: Opening,
  sent: Sent,
): Promise<{ state: EntryState; problems: Problem[]; linked: Readonly<Record<string, Linked>> }> {
  const first = submitEntry(form, opening, sent);
  let { state } = first;
  const open = [...first.requests];
  for (let round = 0, request = open.shift(); request; request = open.shift(), round++) {
    if (round > MOST_ROUNDS) throw new Error(`${form.definition.label} does not settle: its fills form a loop`);
    const event = await answer(database, opening, form, request);
    if (!event) continue;
    const next = reduceEntry(state, event);
    state = next.state;
    open.push(...next.requests);
  }
  const problems = problemsOf(state);
  const wrong = new Set(problems.map((problem) => problem.path));
  const checks = checksOf(state).flatMap((check) => {
    const dropdown = form.fields.get(check.field);
    return dropdown && !wrong.has(check.field) ? [{ ...check, dropdown }] : [];
  });
  const entry = readable(state);
  const found = await findAmongChoices(database, entry, checks);
  const linked: Record<string, Linked> = {};
  checks.forEach(({ field, dropdown }, n) => {
    const one = found[n];
    if (!one) problems.push(notAmongChoices(form, dropdown));
    else if (dropdown.field.type === 'link') linked[field] = one;
    else if (dropdown.field.type === 'links') linked[field] = withTitle(linked[field], checks[n]?.value, one.title);
  });
  return { state, problems, linked };
}

/** The titles of several links, one more of them known. */
const withTitle = (before: Linked | undefined, id: unknown, title: string): Linked => {
  const titles = { ...before?.titles, [String(id)]: title };
  return { title: before ? `${before.title}, ${title}` : title, facts: {}, titles };
};

async function answer(
  database: Database | Transaction,
  opening: Opening,
  form: PreparedForm,
  request: Request,
): Promise<EntryEvent | undefined> {
  const field = 'field' in request ? form.fields.get(request.field) : undefined;
  if (!field) return undefined;
  const { number } = request;
  if (request.kind === 'lookup' || request.kind === 'facts') {
    const found = await findById(database, form, field, request.id);
    return { type: 'found', kind: request.kind, field: field.id, number, found: found ? [found] : [] };
  }
  if (request.kind === 'only') {
    const { account, now } = opening;
    const entry = await readableOf(database, form, { account, now, values: request.values }, field);
    const { choices } = await findChoices(database, entry, field, '', 2);
    return { type: 'onlyChoice', field: field.id, number, choice: choices.length === 1 ? (choices[0] ?? null) : null };
  }
  if (request.kind === 'keyLookup')
    return {
      type: 'found',
      kind: 'keyLookup',
      field: field.id,
      number,
      found: await findByKey(database, form, field, request.key),
    };
  return undefined;
}

function notAmongChoices(form: PreparedForm, dropdown: PreparedField): Problem {
  const parents = form.wiring.edges.flatMap((edge) =>
    edge.kind === 'narrows' && edge.to === dropdown.id ? [form.fields.get(edge.from)?.label ?? ''] : [],
  );
  const because = parents.length > 0 ? ` with this ${parents.join(' and ')}` : '';
  return {
    path: dropdown.id,
    rule: 'choice',
    message: `What was chosen for ${dropdown.label} does not apply${because}. Choose one of the list.`,
  };
}
