import {
  checksOf,
  type EntryEvent,
  type EntryState,
  type Found,
  type Linked,
  linePath,
  linesIn,
  narrowedBy,
  type Opening,
  problemsOf,
  type Request,
  readable,
  reduceEntry,
  type Sent,
  splitPath,
  submitEntry,
} from '@fiche/core/entry';
import type { Problem } from '@fiche/core/fields';
import { ENCLOSING, type PreparedField, type PreparedForm } from '@fiche/core/forms';
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
  const rounds = MOST_ROUNDS * (1 + Object.values(state.lines).reduce((n, lines) => n + lines.length, 0));
  const known: Known = new Map();
  for (let round = 0, request = open.shift(); request; request = open.shift(), round++) {
    if (round > rounds) throw new Error(`${form.definition.label} does not settle: its fills form a loop`);
    const event = await answer(database, opening, state, request, known);
    if (!event) continue;
    const next = reduceEntry(state, event);
    state = next.state;
    open.push(...next.requests);
  }
  const problems: Problem[] = problemsOf(state);
  const own = await checkChoices(database, state, problems);
  const lines = await checkLines(database, state, problems, known);
  problems.push(...own.problems, ...lines);
  return { state, problems, linked: own.linked };
}

/** Answers that several lines ask for, so that 500 lines of ten services ask ten times. */
type Known = Map<string, Promise<unknown>>;

function once<T>(known: Known, key: string, ask: () => Promise<T>): Promise<T> {
  const before = known.get(key) as Promise<T> | undefined;
  const asked = before ?? ask();
  known.set(key, asked);
  return asked;
}

/** Checks the chosen values of one entry, leaving out the fields that something stands against already. */
async function checkChoices(
  database: Database | Transaction,
  state: EntryState,
  known: readonly Problem[],
): Promise<{ problems: Problem[]; linked: Record<string, Linked> }> {
  const { form } = state;
  const wrong = new Set(known.map((problem) => problem.path));
  const checks = checksOf(state).flatMap((check) => {
    const dropdown = form.fields.get(check.field);
    return dropdown && !wrong.has(check.field) ? [{ ...check, dropdown }] : [];
  });
  const found = await findAmongChoices(database, readable(state), checks);
  const linked: Record<string, Linked> = {};
  const problems: Problem[] = [];
  checks.forEach(({ field, dropdown }, n) => {
    const one = found[n];
    if (!one) problems.push(notAmongChoices(form, dropdown));
    else if (dropdown.field.type === 'link') linked[field] = one;
    else if (dropdown.field.type === 'links') linked[field] = withTitle(linked[field], checks[n]?.value, one.title);
  });
  return { problems, linked };
}

/** Checks the chosen values of every line; lines that ask the same are answered by one question. */
async function checkLines(
  database: Database | Transaction,
  state: EntryState,
  problems: readonly Problem[],
  known: Known,
): Promise<Problem[]> {
  const found: Problem[] = [];
  for (const subform of state.form.subforms.keys()) {
    if (state.hidden[subform]) continue;
    for (const { key, state: line } of linesIn(state, subform)) {
      const own = problems.flatMap((one) => {
        const at = splitPath(one.path);
        return at?.line.key === key && at.line.subform === subform ? [{ ...one, path: at.path }] : [];
      });
      const asked = checksOf(line).map(({ field, value, fresh }) => [
        field,
        value,
        fresh,
        narrowedBy(readable(line), field),
      ]);
      if (asked.length === 0) continue;
      const question = JSON.stringify([subform, asked, own.map((one) => one.path)]);
      const answered = await once(known, question, () => checkChoices(database, line, own));
      found.push(...answered.problems.map((one) => ({ ...one, path: linePath({ subform, key }, one.path) })));
    }
  }
  return found;
}

/** The titles of several links, one more of them known. */
const withTitle = (before: Linked | undefined, id: unknown, title: string): Linked => {
  const titles = { ...before?.titles, [String(id)]: title };
  return { title: before ? `${before.title}, ${title}` : title, facts: {}, titles };
};

async function answer(
  database: Database | Transaction,
  { account, now }: Opening,
  state: EntryState,
  request: Request,
  known: Known,
): Promise<EntryEvent | undefined> {
  const { line } = request;
  const entry = line ? state.lines[line.subform]?.find((one) => one.key === line.key)?.state : state;
  const field = entry && 'field' in request ? entry.form.fields.get(request.field) : undefined;
  if (!entry || !field) return undefined;
  const { form } = entry;
  const { number } = request;
  const found = (kind: 'lookup' | 'facts' | 'keyLookup', ask: () => Promise<readonly Found[]>, what: unknown) =>
    once(known, JSON.stringify([line?.subform, kind === 'keyLookup', field.id, what]), ask).then(
      (records): EntryEvent => ({ type: 'found', kind, field: field.id, number, found: records }),
    );
  const event = await (async (): Promise<EntryEvent | undefined> => {
    if (request.kind === 'lookup' || request.kind === 'facts')
      return found(
        request.kind,
        async () => {
          const one = await findById(database, form, field, request.id);
          return one ? [one] : [];
        },
        request.id,
      );
    if (request.kind === 'only') {
      const { enclosing } = entry.opening;
      const asked = await readableOf(database, form, { account, now, values: request.values, enclosing }, field);
      const { choices } = await findChoices(database, asked, field, '', 2);
      const choice = choices.length === 1 ? (choices[0] ?? null) : null;
      return { type: 'onlyChoice', field: field.id, number, choice };
    }
    return request.kind === 'keyLookup'
      ? found('keyLookup', () => findByKey(database, form, field, request.key), request.key)
      : undefined;
  })();
  return event && line ? { type: 'line', line, event } : event;
}

function notAmongChoices(form: PreparedForm, dropdown: PreparedField): Problem {
  const parents = form.wiring.edges.flatMap((edge) =>
    edge.kind === 'narrows' && edge.to === dropdown.id ? [labelOf(form, edge.from)] : [],
  );
  const because = parents.length > 0 ? ` with this ${parents.join(' and ')}` : '';
  return {
    path: dropdown.id,
    rule: 'choice',
    message: `What was chosen for ${dropdown.label} does not apply${because}. Choose one of the list.`,
  };
}

const labelOf = (form: PreparedForm, mover: string): string =>
  form.fields.get(mover)?.label ??
  form.enclosure?.table.fields.find((field) => ENCLOSING + field.id === mover)?.label ??
  mover;
