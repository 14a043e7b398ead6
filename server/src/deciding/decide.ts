import {
  type AnswerSource,
  answerQuestion,
  type Check,
  checksOf,
  type EntryEvent,
  type EntryState,
  type LineAddress,
  type LinkedRecord,
  linePath,
  narrowedBy,
  type Opening,
  peopleNamed,
  presentLines,
  problemsOf,
  type Readable,
  type Request,
  readable,
  reduceEntry,
  type Sent,
  submitEntry,
} from '@fiche/core/entry';
import { linksOne, linksSeveral, type Problem, type Values } from '@fiche/core/fields';
import { ENCLOSING, type PreparedField, type PreparedForm } from '@fiche/core/forms';
import { joinedWords, say } from '@fiche/core/languages';
import type { Tables } from '@fiche/core/tables';
import { peopleOf } from '../accounts/index.ts';
import { findAmongChoices, findById, findByKey, findChoices, isAmongChoices, readableOf } from '../choices/index.ts';
import type { Database, Transaction } from '../database/index.ts';

/** More rounds of lookups than any chain of fills needs; a form that wants more has a loop. */
const MOST_ROUNDS = 50;

/** An entry that was replayed: its settled state, and all that stands against writing it. */
export interface Decided {
  readonly state: EntryState;
  readonly problems: Problem[];
  /** The linked records that were checked. */
  readonly linked: Readonly<Record<string, LinkedRecord>>;
}

/**
 * Replays what was sent through the running form's own code, answers its requests out of the database, and checks
 * every chosen value against its narrowed choices. `rows` are the records that may be chosen or found by a key: all, or
 * those that the caller sees.
 */
export async function decide(
  database: Database | Transaction,
  form: PreparedForm,
  opening: Opening,
  sent: Sent,
  rows: Tables = form.tables,
): Promise<Decided> {
  const [decided] = await decideMany(database, form, [{ opening, sent }], rows);
  if (!decided) throw new Error('An entry was not decided');
  return decided;
}

/** Decides several entries into one form at the same moment, each like `decide`: the same question is asked once for all of them. */
export async function decideMany(
  database: Database | Transaction,
  form: PreparedForm,
  entries: readonly { readonly opening: Opening; readonly sent: Sent }[],
  rows: Tables = form.tables,
): Promise<Decided[]> {
  const known: Known = new Map();
  const settled: { state: EntryState; problems: Problem[] }[] = [];
  for (const { opening, sent } of entries) {
    const state = await replay({ database, rows, known }, form, opening, sent);
    settled.push({ state, problems: [...problemsOf(state), ...(await strangers(database, state, known))] });
  }
  const checked = await checkChoices(database, rows, settled);
  return settled.map(({ state, problems }, at) => ({
    state,
    problems: [...problems, ...(checked[at]?.problems ?? [])],
    linked: checked[at]?.linked ?? {},
  }));
}

/** Replays one entry until nothing is asked any more. */
async function replay(answering: Answering, form: PreparedForm, opening: Opening, sent: Sent): Promise<EntryState> {
  const first = submitEntry(form, opening, sent);
  let { state } = first;
  const open = [...first.requests];
  const rounds = MOST_ROUNDS * (1 + Object.values(state.lines).reduce((n, lines) => n + lines.length, 0));
  for (let round = 0, request = open.shift(); request; request = open.shift(), round++) {
    if (round > rounds) throw new Error(`${form.definition.label} does not settle: its fills form a loop`);
    const event = await answer(answering, opening, state, request);
    if (!event) continue;
    const next = reduceEntry(state, event);
    state = next.state;
    open.push(...next.requests);
  }
  return state;
}

/** Answers that several lines or entries ask for, so that 500 lines of ten services ask ten times. */
type Known = Map<string, Promise<unknown>>;

function once<T>(known: Known, key: string, ask: () => Promise<T>): Promise<T> {
  const before = known.get(key) as Promise<T> | undefined;
  const asked = before ?? ask();
  known.set(key, asked);
  return asked;
}

/** The accounts that an entry and its lines newly name, with the path of each. */
export function peopleOfEntry(state: EntryState): { readonly path: string; readonly login: string }[] {
  const lines = [...state.form.subforms.keys()].flatMap((subform) =>
    state.hidden[subform]
      ? []
      : presentLines(state, subform).flatMap(({ key, state: line }) =>
          peopleNamed(line).map(({ field, login }) => ({ path: linePath({ subform, key }, field), login })),
        ),
  );
  return [...peopleNamed(state).map(({ field, login }) => ({ path: field, login })), ...lines];
}

/** The accounts that are newly named and are not among the people of the cabinet. */
async function strangers(database: Database | Transaction, state: EntryState, known: Known): Promise<Problem[]> {
  const named = peopleOfEntry(state);
  if (named.length === 0) return [];
  const { cabinet } = state.form.table;
  const people = await once(known, JSON.stringify(['people']), () => peopleOf(database, cabinet));
  return named.flatMap(({ path, login }) =>
    people.has(login)
      ? []
      : [
          {
            path,
            rule: 'account',
            message: say('Nobody of this cabinet has the login {login}. Choose one of its people.', { login }),
          },
        ],
  );
}

/** A chosen value that must be among the choices of its dropdown, in an entry or in one of its lines. */
interface Chosen extends Check {
  readonly entry: Readable;
  readonly dropdown: PreparedField;
  readonly line?: LineAddress;
}

/** The values to check of one entry, without the fields that something stands against already. */
function chosenIn(state: EntryState, wrong: ReadonlySet<string>, line?: LineAddress): Chosen[] {
  const entry = readable(state);
  return checksOf(state).flatMap((check): Chosen[] => {
    const dropdown = state.form.fields.get(check.field);
    const path = line ? linePath(line, check.field) : check.field;
    return dropdown && !wrong.has(path) ? [{ ...check, entry, dropdown, line }] : [];
  });
}

/** So many are asked in one question. */
const ASKED_AT_ONCE = 40;

/** The chosen values to check of an entry and of its lines. */
function allChosen(state: EntryState, problems: readonly Problem[]): Chosen[] {
  const wrong = new Set(problems.map((problem) => problem.path));
  return [
    ...chosenIn(state, wrong),
    ...[...state.form.subforms.keys()].flatMap((subform) =>
      state.hidden[subform]
        ? []
        : presentLines(state, subform).flatMap(({ key, state: line }) => chosenIn(line, wrong, { subform, key })),
    ),
  ];
}

/**
 * Checks the chosen values of entries and of their lines against their narrowed choices. The same question is asked once,
 * however many of them ask it.
 */
async function checkChoices(
  database: Database | Transaction,
  rows: Tables,
  entries: readonly { readonly state: EntryState; readonly problems: readonly Problem[] }[],
): Promise<{ problems: Problem[]; linked: Record<string, LinkedRecord> }[]> {
  const chosen = entries.map(({ state, problems }) => allChosen(state, problems));
  const questions = new Map<string, Chosen>();
  const questionOf = (one: Chosen): string =>
    JSON.stringify([one.line?.subform, one.field, one.value, one.fresh, narrowedBy(one.entry, one.field)]);
  const asking = chosen.map((of) => of.map(questionOf));
  for (const [at, of] of chosen.entries())
    for (const [n, one] of of.entries()) {
      const question = asking[at]?.[n] ?? '';
      if (!questions.has(question)) questions.set(question, one);
    }
  const answers = new Map<string, LinkedRecord | undefined>();
  const open = [...questions];
  for (let from = 0; from < open.length; from += ASKED_AT_ONCE) {
    const some = open.slice(from, from + ASKED_AT_ONCE);
    const found = await findAmongChoices(
      database,
      rows,
      some.map(([, one]) => one),
    );
    for (const [n, [question]] of some.entries()) answers.set(question, found[n]);
  }
  return chosen.map((of, at) => fitting(of, (n) => answers.get(asking[at]?.[n] ?? '')));
}

/** What the answers say of one entry: what does not apply, and the records that it links to. */
function fitting(
  chosen: readonly Chosen[],
  answerTo: (at: number) => LinkedRecord | undefined,
): { problems: Problem[]; linked: Record<string, LinkedRecord> } {
  const linked: Record<string, LinkedRecord> = {};
  const problems: Problem[] = [];
  for (const [n, { entry, field, value, dropdown, line }] of chosen.entries()) {
    const one = answerTo(n);
    if (!one) {
      const problem = notAmongChoices(entry.form, dropdown);
      problems.push(line ? { ...problem, path: linePath(line, problem.path) } : problem);
    } else if (line) continue;
    else if (linksOne(dropdown.field)) linked[field] = one;
    else if (linksSeveral(dropdown.field)) linked[field] = withTitle(linked[field], value, one.title);
  }
  return { problems, linked };
}

/** The titles of several links, one more of them known. */
const withTitle = (before: LinkedRecord | undefined, id: unknown, title: string): LinkedRecord => {
  const titles = { ...before?.titles, [String(id)]: title };
  return { title: before ? `${before.title}, ${title}` : title, facts: {}, titles };
};

/** What answers the requests of an entry that is replayed. */
interface Answering {
  readonly database: Database | Transaction;
  readonly rows: Tables;
  readonly known: Known;
}

async function answer(
  answering: Answering,
  opening: Opening,
  state: EntryState,
  request: Request,
): Promise<EntryEvent | undefined> {
  const { line } = request;
  const entry = line ? state.lines[line.subform]?.find((one) => one.key === line.key)?.state : state;
  const field = entry && 'field' in request ? entry.form.fields.get(request.field) : undefined;
  if (!entry || !field) return undefined;
  // A replay is sent values only: what is chosen is checked at its end, all at once.
  if (request.kind === 'save' || request.kind === 'check' || request.kind === 'choices' || request.kind === 'match')
    return undefined;
  const event = await answerQuestion(request, sourceFor(answering, opening, entry, field, line?.subform ?? ''));
  return line ? { type: 'line', line, event } : event;
}

/** The database as a form reads it; what several lines of a subform ask is asked once. */
function sourceFor(
  { database, rows, known }: Answering,
  { account, now }: Opening,
  { form, opening: { enclosing } }: EntryState,
  field: PreparedField,
  subform: string,
): AnswerSource {
  const entryWith = (values: Values) =>
    readableOf(database, form.tables, form, { account, now, values, enclosing }, field);
  return {
    choices: async (_field, values, search, limit) =>
      findChoices(database, rows, await entryWith(values), field, search, limit),
    fits: async (id, values) => isAmongChoices(database, rows, await entryWith(values), field, values[id] ?? null),
    byId: (id, record) =>
      once(known, JSON.stringify([subform, 'record', id, record]), async () => {
        const one = await findById(database, form.tables, field, record);
        return one ? [one] : [];
      }),
    byKey: (id, key) =>
      once(known, JSON.stringify([subform, 'key', id, key]), () => findByKey(database, rows, form, field, key)),
  };
}

function notAmongChoices(form: PreparedForm, dropdown: PreparedField): Problem {
  const parents = form.wiring.edges.flatMap((edge) =>
    edge.kind === 'narrows' && edge.to === dropdown.id ? [labelOf(form, edge.from)] : [],
  );
  return {
    path: dropdown.id,
    rule: 'choice',
    message:
      parents.length === 0
        ? say('What was chosen for {field} does not apply. Choose one of the list.', { field: dropdown.label })
        : say('What was chosen for {field} does not apply with this {parents}. Choose one of the list.', {
            field: dropdown.label,
            parents: joinedWords(parents),
          }),
  };
}

const labelOf = (form: PreparedForm, mover: string): string =>
  form.fields.get(mover)?.label ??
  form.enclosure?.table.fields.find((field) => ENCLOSING + field.id === mover)?.label ??
  mover;
