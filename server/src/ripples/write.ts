import type { RecordView } from '@fiche/core/api';
import { changesOf, reasonsGiven } from '@fiche/core/entry';
import type { Problem, Values } from '@fiche/core/fields';
import { type PreparedForm, readsLink } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { PreparedEffect, PreparedRipple, RippleEvent } from '@fiche/core/ripples';
import { findField, type RecordId, type TableDefinition, type TableId } from '@fiche/core/tables';
import { constraintProblem } from '../constraints/index.ts';
import { type Actor, setActor, type Transaction } from '../database/index.ts';
import { type Decided, decideMany } from '../deciding/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { prepared, tableForm } from '../forms/index.ts';
import { Refusal } from '../http/index.ts';
import { putInOutbox } from '../messages/index.ts';
import { findRecordsWhere, insertRecords, updateRecords } from '../records/index.ts';
import type { MailSettings } from '../services.ts';

/** With what ripples are run: who saved, in which cabinet, and what of it the caller sees. */
export interface Running {
  readonly transaction: Transaction;
  /** All definitions of the cabinet. */
  readonly whole: Definitions;
  /** What the caller sees: a refusal names no table that they do not. */
  readonly seen: Definitions;
  readonly actor: Actor;
  /** The signed-in account; null on a public page. */
  readonly account: string | null;
  readonly now: string;
  readonly mail: MailSettings;
}

/** What a ripple wrote for a save; `table` and `to` are undefined for a message, and where there was nothing to write. */
export interface Written {
  readonly record: RecordId;
  readonly table?: TableId;
  readonly to?: RecordId;
}

/** Messages that one ripple sends for one save. */
const MOST_MESSAGES = 1_000;

/** Writes one effect of a ripple for the saves that it follows. Throws 422 in words that name the ripple. */
export function writeEffect(
  running: Running,
  ripple: PreparedRipple,
  effect: PreparedEffect,
  events: readonly RippleEvent[],
): Promise<Written[]> {
  switch (effect.does) {
    case 'add':
      return addLines(running, ripple, effect, events);
    case 'change':
      return changeRecords(running, ripple, effect, events);
    case 'message':
      return sendMessages(running, ripple, effect, events);
  }
}

type Of<Does extends PreparedEffect['does']> = Extract<PreparedEffect, { does: Does }>;

async function addLines(
  running: Running,
  ripple: PreparedRipple,
  effect: Of<'add'>,
  events: readonly RippleEvent[],
): Promise<Written[]> {
  const { transaction, account, now } = running;
  const form = formOf(running, effect.table);
  // The link to the record that was saved is sound: it is decided only where the table itself reads through it.
  const apart = new Set([...effect.linksBack].filter((id) => !readsLink(form, id)));
  const values = events.map((event) => effect.valuesOf(event));
  const decided = await decideMany(
    transaction,
    form,
    events.map((_event, at) => ({
      opening: { account, now, record: null },
      sent: { values: without(values[at] ?? {}, apart), reasons: reasonsOf(form, ripple) },
    })),
  );
  const written: Written[] = [];
  // The record that was saved is linked, also where it has just gone out of use.
  const judged = decided.map((one) => ({
    ...one,
    problems: one.problems.filter(
      ({ path, rule }) =>
        !effect.linksBack.has(path) || (rule !== 'choice' && !(apart.has(path) && rule === 'required')),
    ),
  }));
  await inTurns(running, ripple, effect.table, judged, events, async (some) => {
    const ids = await insertRecords(
      transaction,
      effect.table,
      some.map(({ state, event }) => ({ ...changesOf(state), ...only(effect.valuesOf(event), apart) })),
    );
    for (const [at, { event }] of some.entries()) {
      const to = ids[at];
      if (to !== undefined) written.push({ record: event.record, table: effect.table.id, to });
    }
  });
  return written;
}

const without = (values: Values, fields: ReadonlySet<string>): Values =>
  Object.fromEntries(Object.entries(values).filter(([id]) => !fields.has(id)));
const only = (values: Values, fields: ReadonlySet<string>): Values =>
  Object.fromEntries(Object.entries(values).filter(([id]) => fields.has(id)));

async function changeRecords(
  running: Running,
  ripple: PreparedRipple,
  effect: Of<'change'>,
  events: readonly RippleEvent[],
): Promise<Written[]> {
  const { transaction, whole, account, now } = running;
  const form = formOf(running, effect.table);
  const written: Written[] = [];
  // A record that several saves point at is changed by each in turn.
  for (let open = events.filter((event) => effect.recordOf(event) !== null); open.length > 0; ) {
    const turn = new Map<RecordId, RippleEvent>();
    for (const event of open) {
      const id = effect.recordOf(event) ?? 0;
      if (!turn.has(id)) turn.set(id, event);
    }
    const taken = new Set(turn.values());
    open = open.filter((event) => !taken.has(event));
    const wanted = (field: { id: string }) => form.fields.get(field.id)?.factPaths ?? [];
    const ids = [...turn.keys()];
    const found = await findRecordsWhere(
      transaction,
      whole.tables,
      effect.table.id,
      'r.id = ANY(?) ORDER BY r.id',
      [ids],
      wanted,
      true,
    );
    const own = found.map((record) => ({ record, event: turn.get(record.id) as RippleEvent }));
    for (const { record, event } of own)
      if (record.archived) throw archivedRefusal(running, ripple, effect.table, record, event);
    const decided = await decideMany(
      transaction,
      form,
      own.map(({ record, event }) => ({
        opening: { account, now, record },
        sent: { values: effect.valuesOf(event), reasons: reasonsOf(form, ripple) },
      })),
    );
    await inTurns(
      running,
      ripple,
      effect.table,
      decided,
      own.map((one) => one.event),
      (some) =>
        updateRecords(
          transaction,
          effect.table,
          some.map(({ state, event }) => ({ id: effect.recordOf(event) ?? 0, values: changesOf(state) })),
        ),
    );
    for (const [at, { record, event }] of own.entries())
      if (Object.keys(changesOf((decided[at] as Decided).state)).length > 0)
        written.push({ record: event.record, table: effect.table.id, to: record.id });
  }
  return written;
}

type Turn = Decided & { readonly event: RippleEvent };

/** Writes what was decided: all at once what no rule asked about, and each other one with its reasons in its line. */
async function inTurns(
  running: Running,
  ripple: PreparedRipple,
  table: TableDefinition,
  decided: readonly Decided[],
  events: readonly RippleEvent[],
  write: (some: readonly Turn[]) => Promise<void>,
): Promise<void> {
  const all = decided.map((one, at): Turn => ({ ...one, event: events[at] as RippleEvent }));
  const wrong = all.find((one) => one.problems.length > 0);
  if (wrong) throw refusalOf(running, ripple, table, wrong.problems, wrong.event);
  const { transaction, actor } = running;
  const through = { kind: 'ripple', label: ripple.ripple.label } as const;
  const asked = all.filter((one) => reasonsGiven(one.state).length > 0);
  try {
    await setActor(transaction, { ...actor, through });
    await write(all.filter((one) => !asked.includes(one)));
    for (const one of asked) {
      const reasons = reasonsGiven(one.state).map(({ message, reason }) => ({ message, reason }));
      await setActor(transaction, { ...actor, through: { ...through, reasons } });
      await write([one]);
    }
  } catch (error) {
    const found = constraintProblem(table, error);
    throw found ? refusalOf(running, ripple, table, found.errors, events.length === 1 ? events[0] : undefined) : error;
  }
}

const formOf = ({ whole }: Running, table: TableDefinition): PreparedForm =>
  prepared(whole, tableForm(whole, table.id));

/** What is said to rules that ask: no person is there to answer them. */
const reasonsOf = (form: PreparedForm, { ripple }: PreparedRipple): Record<string, string> =>
  Object.fromEntries(
    form.rules.flatMap((rule) => (rule.kind === 'ask' ? [[rule.id, `written by the ripple “${ripple.label}”`]] : [])),
  );

/** Refuses the save that a ripple cannot follow: with what is wrong, for those who see where it writes. */
function refusalOf(
  { seen, account }: Running,
  { ripple }: PreparedRipple,
  table: TableDefinition,
  problems: readonly Problem[],
  event: RippleEvent | undefined,
): Refusal {
  if (account === null) {
    const message = say(
      'This cannot be sent as it is: records of the office stand against it. Please tell the office.',
    );
    return new Refusal(422, message, [{ path: '', rule: 'ripple', message }]);
  }
  const visible = seen.tables.get(table.id);
  const [first] = problems;
  const field = visible && first ? findField(visible, first.path)?.label : undefined;
  const hidden = first && findField(table, first.path) !== undefined && field === undefined;
  const what =
    visible && first && !hidden
      ? say('it cannot write to {label}: {message}', {
          label: table.label,
          message: field ? say('{field}: {message}', { field, message: first.message }) : first.message,
        })
      : say('it cannot write what it has to, in a place that you do not see. Ask whoever builds the tables.');
  const message =
    event && event.title !== ''
      ? say('This save of {title} sets off the ripple “{label}”, and {what}', {
          title: event.title,
          label: ripple.label,
          what,
        })
      : say('This save sets off the ripple “{label}”, and {what}', { label: ripple.label, what });
  return new Refusal(422, message, [{ path: '', rule: 'ripple', message }]);
}

function archivedRefusal(
  running: Running,
  ripple: PreparedRipple,
  table: TableDefinition,
  record: RecordView,
  event: RippleEvent,
): Refusal {
  const message = say('{title} is archived. Restore it first.', { title: record.title });
  return refusalOf(running, ripple, table, [{ path: '', rule: 'archived', message }], event);
}

async function sendMessages(
  { transaction, mail }: Running,
  { ripple, table }: PreparedRipple,
  effect: Of<'message'>,
  events: readonly RippleEvent[],
): Promise<Written[]> {
  const told = events.flatMap((event) => {
    const to = effect.receiverOf(event);
    return to ? [{ event, to }] : [];
  });
  if (told.length > MOST_MESSAGES)
    throw new Refusal(
      422,
      say(
        'This save sets off the ripple “{label}”, which would send {count} messages. At most {mostMessages} are sent for one save: save fewer records at once, or pause the ripple.',
        { label: ripple.label, count: told.length, mostMessages: MOST_MESSAGES },
      ),
    );
  for (const { event, to } of told) {
    const login = 'login' in to ? to.login : null;
    // The application reads no addresses of accounts: whoever sends finds it.
    const address = 'address' in to ? to.address : '';
    await putInOutbox(transaction, mail, {
      cabinet: table.cabinet,
      kind: 'ripple',
      login,
      address,
      ...effect.messageOf(event),
      about: [{ table: table.id, record: event.record }],
    });
  }
  return told.map(({ event }) => ({ record: event.record }));
}
