import type { MergeAnswer, RecordView } from '@fiche/core/api';
import { changesOf, originsOf } from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import { describeChanges, linksIn } from '@fiche/core/history';
import { say, sayCount } from '@fiche/core/languages';
import { type MergePlan, mergedValues } from '@fiche/core/merging';
import { civilNow } from '@fiche/core/office';
import { findField, type RecordId, type TableDefinition } from '@fiche/core/tables';
import { usesOf } from '@fiche/core/uses';
import { hasRight, requireRecords, requireWriteRight } from '../access/index.ts';
import { inSavepoint } from '../constraints/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { type Decided, decideMany } from '../deciding/index.ts';
import { announce } from '../events/index.ts';
import { prepared, tableForm } from '../forms/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import {
  findRecordsWhere,
  keepOrigins,
  originsOfRecords,
  titlesOf,
  updateRecord,
  updateRecords,
} from '../records/index.ts';
import { type Saver, savingRecords } from '../ripples/index.ts';
import { usedWorld } from '../uses/index.ts';
import { type Linking, linkingTo, repointLinks } from './linking.ts';
import { findLinkWithin, type LinkWithin } from './linkWithin.ts';
import { moveOrigins } from './origins.ts';

/** Ends a transaction that only looked. */
class OnlyLooked extends Error {}

/** What is said to rules that ask: the records were saved so before. */
const REASON = 'merged with another record';
/** Problems that an answer names. */
const NAMED = 50;
/** Open cards of so many records are told at once that a merge has changed them. */
const ANNOUNCED = 100;

type Problem = MergeAnswer['problems'][number];

/**
 * Makes one record of several, in one transaction: the one that stays takes values of the others, what links to them points to it,
 * and they are archived. Each record that is changed is decided like its card, and may not break a rule that it kept before; the
 * ripples of all of them run. With `look` all is taken back. Throws 404, 403, 409 where somebody has changed one of the records
 * meanwhile, and 422.
 */
export async function mergeRecords(
  app: Database,
  saver: Saver,
  table: TableDefinition,
  plan: MergePlan,
  wanted: 'look' | 'write',
): Promise<MergeAnswer> {
  const ids = plan.records.map((one) => one.id);
  if (new Set(ids).size < ids.length)
    throw new Refusal(422, say('A record cannot be merged with itself. Choose another one.'));
  if (!ids.includes(plan.stays)) throw new Refusal(422, say('Choose which of the records stays.'));
  requireWriteRight(saver.definitions, table, 'change');
  requireWriteRight(saver.definitions, table, 'archive');
  let answer: MergeAnswer | undefined;
  await savingRecords(
    app,
    saver,
    async (write) => {
      answer = await mergeIn(write, saver, table, plan);
      if (wanted === 'look') return;
      if (answer.problems.length > 0) throw new Refusal(422, whyNot(answer.problems));
      answer = { ...answer, written: true, transaction: await numberOf(write) };
    },
    wanted === 'look' ? () => new OnlyLooked() : undefined,
  ).catch((error: unknown) => {
    if (!(error instanceof OnlyLooked)) throw error;
  });
  if (!answer) throw new Error('Nothing was looked at');
  return answer;
}

const whyNot = ([first, ...others]: readonly Problem[]): string =>
  [
    `${first?.what} ${first?.title}: ${first?.message}`,
    ...(others.length > 0
      ? [sayCount(others.length, 'One more cannot be changed, too.', '{count} more cannot be changed, too.')]
      : []),
  ].join(' ');

async function numberOf(write: Transaction): Promise<number> {
  const { rows } = await write.raw<{ rows: { n: number }[] }>('SELECT txid_current() AS n');
  return Number(rows[0]?.n);
}

async function mergeIn(
  write: Transaction,
  saver: Saver,
  table: TableDefinition,
  plan: MergePlan,
): Promise<MergeAnswer> {
  const { definitions, actor } = saver;
  const whole = (definitions.seen?.whole ?? definitions).tables;
  const form = prepared(definitions, tableForm(definitions, table.id));
  const records = await lockRecords(write, saver, table, form, plan);
  const stays = records.find((one) => one.id === plan.stays) as RecordView;
  const merged = records.flatMap((one) => (one.id === plan.stays ? [] : [one.id]));
  const within = await findLinkWithin(write, whole.get(table.id) ?? table, [...merged, stays.id]);
  if (within) throw new Refusal(422, linkWithinWords(table, records, within));
  const linking = await linkingTo(write, definitions, table, merged);
  const before = new Map<Linking, ReadonlySet<string>>();
  for (const one of linking) before.set(one, problemsKnown(await decideLinking(write, saver, one)));
  const problems: Problem[] = [];
  const attempt = async (of: TableDefinition, named: RecordView, work: () => Promise<void>): Promise<void> => {
    const message = await inSavepoint(write, of, async () => {
      await work();
      return null;
    });
    if (message !== null) problems.push({ what: of.label, record: named.id, title: named.title, message });
  };
  const changes = await changeStaying(write, saver, table, form, stays, records, plan, problems, attempt);
  // What points elsewhere is decided once all of it does, so that a berth and its stays move together.
  for (const one of linking) await attempt(one.table, stays, () => repointLinks(write, one, merged, stays.id));
  if (problems.length === 0)
    for (const one of linking)
      problems.push(...(await recalculateLinking(write, saver, one, before.get(one) ?? new Set())));
  for (const one of linking) await moveOrigins(write, whole, one, { table: table.id, merged }, stays);
  for (const id of merged) await updateRecord(write, table.id, id, { archived_at: new Date().toISOString() });
  await write.raw(
    'INSERT INTO fiche.merged (table_id, record, into_record) SELECT ?, m, ? FROM unnest(?::bigint[]) AS m',
    [table.id, stays.id, `{${merged.join(',')}}`],
  );
  const touched = [
    ...records.map((one) => ({ table: table.id, id: one.id })),
    ...linking.flatMap((one) => one.ids.map((id) => ({ table: one.table.id, id }))),
  ];
  for (const one of touched.slice(0, ANNOUNCED)) await announce(write, actor.name, one.table, one.id);
  return {
    written: false,
    transaction: null,
    changes,
    moved: linking.map((one) => ({
      table: one.table.id,
      what: one.table.label,
      field: one.field.label,
      count: one.ids.length,
    })),
    uses: await usesOfRecords(write, saver, table, merged),
    problems: problems.slice(0, NAMED),
  };
}

/** Filters, defaults and ripples that name one of some records, for whoever builds: the others could not change them. */
async function usesOfRecords(
  write: Transaction,
  { definitions, account }: Saver,
  table: TableDefinition,
  records: readonly RecordId[],
): Promise<MergeAnswer['uses']> {
  if (!hasRight(definitions, 'build')) return [];
  const world = await usedWorld(write, definitions, table.cabinet, account ?? '');
  const uses = records.flatMap((record) => usesOf({ kind: 'record', table: table.id, record }, world));
  return uses.map(({ place, words }) => ({ place, words: [...words] }));
}

/** The records of a merge, locked and as its planner saw them. Throws 404, 403 and 409. */
async function lockRecords(
  write: Transaction,
  { definitions }: Saver,
  table: TableDefinition,
  form: PreparedForm,
  plan: MergePlan,
): Promise<RecordView[]> {
  const ids = plan.records.map((one) => one.id);
  // In the order of their numbers, so that two merges of the same records wait for one another.
  const records = await findRecordsWhere(
    write,
    definitions.tables,
    table.id,
    'r.id = ANY(?) ORDER BY r.id',
    [ids],
    (field) => form.fields.get(field.id)?.factPaths ?? [],
    true,
  );
  if (records.length < ids.length) throw notFound(say('One of these records'));
  for (const action of ['change', 'archive'] as const) await requireRecords(write, definitions, table, action, ids);
  const seen = new Map(plan.records.map((one) => [one.id, one.version]));
  const stale = records.find((one) => one.version !== seen.get(one.id) || one.archived);
  if (stale)
    throw new Refusal(
      409,
      say('{changedBy} has {archived} {title} meanwhile. Look at the records again.', {
        changedBy: stale.stamp.changedBy,
        archived: stale.archived ? 'archived' : 'changed',
        title: stale.title,
      }),
    );
  return records;
}

function linkWithinWords(
  table: TableDefinition,
  records: readonly RecordView[],
  { from, to, field }: LinkWithin,
): string {
  const named = (id: RecordId): string => records.find((one) => one.id === id)?.title ?? `#${id}`;
  const link = findField(table, field.id)?.label ?? say('a field that your role does not see');
  return say('{from} is linked to {to} by {link}: merged, it would be linked to itself. Change that first.', {
    from: named(from),
    to: named(to),
    link,
  });
}

/** Gives the record that stays what it takes of the others, decided like its card; tells what changes, in words. */
async function changeStaying(
  write: Transaction,
  { definitions, account }: Saver,
  table: TableDefinition,
  form: PreparedForm,
  stays: RecordView,
  records: readonly RecordView[],
  plan: MergePlan,
  problems: Problem[],
  attempt: (of: TableDefinition, named: RecordView, work: () => Promise<void>) => Promise<void>,
): Promise<MergeAnswer['changes']> {
  const chosen = Object.entries(mergedValues(table.fields, records, plan)).filter(
    ([id]) => form.fields.get(id)?.readOnly === false,
  );
  if (chosen.length === 0) return [];
  const values = Object.fromEntries(chosen);
  const origins = (await originsOfRecords(write, form.tables, table.id, [stays.id])).get(stays.id) ?? {};
  const opening = { account, now: civilNow(), record: { ...stays, origins } };
  const sent = { values, reasons: reasonsFor(form) };
  const [decided] = await decideMany(write, form, [{ opening, sent }], definitions.seen?.rows);
  if (!decided) throw new Error('A record was not decided');
  problems.push(
    ...decided.problems.map(({ message }) => ({ what: table.label, record: stays.id, title: stays.title, message })),
  );
  const written = changesOf(decided.state);
  if (decided.problems.length === 0)
    await attempt(table, stays, async () => {
      await updateRecord(write, table.id, stays.id, written);
      await keepOrigins(write, table.id, [[stays.id, originsOf(decided.state)]]);
    });
  const seen = (definitions.tables.get(table.id) ?? table).fields;
  const was = Object.fromEntries(Object.keys(written).map((id) => [id, stays.values[id] ?? null]));
  const titles = await titlesOf(write, definitions.tables, linksIn(seen, was, written));
  return describeChanges(
    seen,
    was,
    Object.fromEntries(Object.entries(written).filter(([id]) => findField(table, id))),
    titles,
  );
}

/** A reason for every rule that asks: the records were saved with what they say. */
const reasonsFor = (form: PreparedForm): Record<string, string> =>
  Object.fromEntries(form.rules.flatMap((rule) => (rule.kind === 'ask' ? [[rule.id, REASON]] : [])));

interface DecidedLinking {
  readonly record: RecordView;
  readonly decided: Decided;
}

/** Decides records that link to those that are merged, as they are now, like their cards. Archived ones are under no rules. */
async function decideLinking(
  write: Transaction,
  { definitions, account }: Saver,
  { table, ids }: Linking,
): Promise<DecidedLinking[]> {
  const whole = definitions.seen?.whole ?? definitions;
  const form = prepared(whole, tableForm(whole, table.id));
  const wanted = (field: { readonly id: string }) => form.fields.get(field.id)?.factPaths ?? [];
  const records = await findRecordsWhere(
    write,
    whole.tables,
    table.id,
    'r.id = ANY(?) AND r.archived_at IS NULL ORDER BY r.id',
    [[...ids]],
    wanted,
  );
  const origins = await originsOfRecords(write, form.tables, table.id, ids);
  const now = civilNow();
  const entries = records.map((record) => ({
    opening: { account, now, record: { ...record, origins: origins.get(record.id) ?? {} } },
    sent: { values: {}, reasons: reasonsFor(form) },
  }));
  const decided = await decideMany(write, form, entries);
  return records.map((record, at) => ({ record, decided: decided[at] as Decided }));
}

const keyOf = (record: RecordId, { path, message }: { path: string; message: string }): string =>
  `${record} ${path} ${message}`;
const problemsKnown = (all: readonly DecidedLinking[]): ReadonlySet<string> =>
  new Set(all.flatMap(({ record, decided }) => decided.problems.map((one) => keyOf(record.id, one))));

/** Writes what is calculated anew in the records that link to the one that stays; tells the rules that they kept before and break now. */
async function recalculateLinking(
  write: Transaction,
  saver: Saver,
  linking: Linking,
  known: ReadonlySet<string>,
): Promise<Problem[]> {
  const all = await decideLinking(write, saver, linking);
  const { table } = linking;
  await updateRecords(
    write,
    table,
    all.map(({ record, decided }) => ({ id: record.id, values: changesOf(decided.state) })),
  );
  return all.flatMap(({ record, decided }) =>
    decided.problems
      .filter((one) => !known.has(keyOf(record.id, one)))
      .map(({ message }) => ({ what: table.label, record: record.id, title: record.title, message })),
  );
}
