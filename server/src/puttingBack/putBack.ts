import type { PutBackAnswer, RecordView } from '@fiche/core/api';
import { changesOf, originsOf } from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import { describeChanges, linksIn } from '@fiche/core/history';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { relation } from '@fiche/core/queries';
import { type Action, rightTo, rightToHistory } from '@fiche/core/rights';
import type { RecordId, TableDefinition, TableId } from '@fiche/core/tables';
import { callersLimit } from '../access/index.ts';
import { inSavepoint } from '../constraints/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { decide } from '../deciding/index.ts';
import { type Definitions, requireInUse } from '../definitions/index.ts';
import { announce } from '../events/index.ts';
import { prepared, tableForm } from '../forms/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { findRecordsWhere, keepOrigins, originsOfRecord, titlesOf, updateRecord } from '../records/index.ts';
import { type Saver, savingRecords } from '../ripples/index.ts';
import { type SavedRecord, type SaveId, savedPart, savedRecords, TooManySaved } from './lines.ts';
import { type Back, backOf } from './plan.ts';

/** Records that an answer names. */
const NAMED = 200;

/** Ends a transaction that only looked. */
class OnlyLooked extends Error {}

type Shown = PutBackAnswer['records'][number];

/** What is put back of one table. */
interface OfTable {
  readonly table: TableDefinition;
  readonly form: PreparedForm;
  readonly records: ReadonlyMap<RecordId, RecordView>;
  /** Which of them the caller may change, and take out of use. */
  readonly may: Readonly<Record<'change' | 'archive', ReadonlySet<RecordId>>>;
}

/**
 * Puts back what one transaction wrote: a save with its lines and what ripples wrote for it, or an import. Each record is decided
 * like its card, and the ripples of the change run. `look` does the same and takes it back. Throws 404 where nothing of it is for
 * the caller to see, 422 where `all` is wanted and something stands against it.
 */
export async function putBackSave(
  app: Database,
  saver: Saver,
  cabinet: string,
  save: SaveId,
  wanted: 'look' | 'all' | 'possible',
): Promise<PutBackAnswer> {
  const { definitions } = saver;
  const all = [...(definitions.seen?.whole ?? definitions).tables.values()].filter((one) => one.cabinet === cabinet);
  const saved = await savedRecords(
    app,
    save,
    all.map((one) => one.id),
  ).catch((error: unknown) => {
    if (wanted === 'look' && error instanceof TooManySaved) return undefined;
    throw error;
  });
  if (!saved) return partsOf(app, definitions, save, all);
  requireInUse(definitions, cabinet, []);
  let answer: PutBackAnswer | undefined;
  await savingRecords(
    app,
    saver,
    async (write) => {
      const tables = new Map<TableId, OfTable>();
      for (const id of new Set(saved.map((one) => one.table))) {
        const of = await openTable(write, definitions, id, saved);
        if (of) tables.set(id, of);
      }
      const seen = saved.filter((one) => tables.get(one.table)?.records.has(one.record) || isGone(tables, one));
      if (seen.length === 0) throw notFound(say('This save'));
      const shown: Shown[] = [];
      for (const one of seen) shown.push(await putBackOne(write, saver, tables.get(one.table) as OfTable, one));
      answer = answerOf(shown, saved.length - seen.length, wanted !== 'look');
      const { back, stay } = answer.counts;
      if (wanted === 'look') return;
      if (wanted === 'all' && stay > 0)
        throw new Refusal(422, say('{stay} of {count} records cannot be put back.', { stay, count: shown.length }));
      if (back === 0) throw new Refusal(422, say('Nothing of it can be put back.'));
    },
    wanted === 'look' ? () => new OnlyLooked() : undefined,
  ).catch((error: unknown) => {
    if (!(error instanceof OnlyLooked)) throw error;
  });
  if (!answer) throw new Error('Nothing was looked at');
  return answer;
}

/** What a save of too many records added and changed of each table, of the records whose histories the caller reads. */
async function partsOf(
  app: Database,
  definitions: Definitions,
  save: SaveId,
  tables: readonly TableDefinition[],
): Promise<PutBackAnswer> {
  const parts: NonNullable<PutBackAnswer['parts']> = [];
  for (const table of tables) {
    if (!definitions.tables.has(table.id)) continue;
    const limit = callersLimit(definitions, table, 'r', ({ role }) => rightToHistory(role, table)) ?? 'TRUE';
    const counted = await savedPart(app, save, table.id, limit);
    if (counted.added + counted.changed > 0) parts.push({ table: table.id, ...counted });
  }
  if (parts.length === 0) throw notFound(say('This save'));
  return { written: false, parts, counts: { back: 0, same: 0, stay: 0, unseen: 0 }, records: [] };
}

/** Whether a record is of a table that the caller sees, and there no more. */
const isGone = (tables: ReadonlyMap<TableId, OfTable>, { table, kind }: SavedRecord): boolean =>
  kind === 'erase' && tables.has(table);

function answerOf(shown: readonly Shown[], unseen: number, written: boolean): PutBackAnswer {
  const stay = shown.filter((one) => one.problem !== null);
  const same = shown.filter((one) => one.problem === null && one.becomes === 'same');
  const back = shown.filter((one) => one.problem === null && one.becomes !== 'same');
  return {
    written,
    parts: null,
    counts: { back: back.length, same: same.length, stay: stay.length, unseen },
    records: [...stay, ...back, ...same].slice(0, NAMED),
  };
}

/** Reads what is there now of one table, locked; undefined for a table that the caller does not see. */
async function openTable(
  write: Transaction,
  definitions: Definitions,
  id: TableId,
  saved: readonly SavedRecord[],
): Promise<OfTable | undefined> {
  const seen = definitions.tables.get(id);
  const whole = (definitions.seen?.whole ?? definitions).tables;
  const table = seen && whole.get(id);
  if (!table) return undefined;
  const form = prepared(definitions, tableForm(definitions, id));
  const ids = saved.flatMap((one) => (one.table === id ? [one.record] : []));
  const history = callersLimit(definitions, table, 'r', ({ role }) => rightToHistory(role, table)) ?? 'TRUE';
  const records = await findRecordsWhere(
    write,
    whole,
    id,
    `r.id = ANY(?) AND ${history} ORDER BY r.id`,
    [ids],
    (field) => form.fields.get(field.id)?.factPaths ?? [],
    true,
  );
  const mayOf = async (action: Action): Promise<ReadonlySet<RecordId>> => {
    const limit = callersLimit(definitions, table, 'r', ({ role }) => rightTo(role, action, table)) ?? 'TRUE';
    const { rows } = await write.raw<{ rows: { id: RecordId }[] }>(
      `SELECT r.id FROM ${relation(id)} r WHERE r.id = ANY(?) AND ${limit}`,
      [ids],
    );
    return new Set(rows.map((row) => Number(row.id)));
  };
  return {
    table,
    form,
    records: new Map(records.map((record) => [record.id, record])),
    may: { change: await mayOf('change'), archive: await mayOf('archive') },
  };
}

/** Puts one record back, or says why it stays. */
async function putBackOne(write: Transaction, saver: Saver, of: OfTable, saved: SavedRecord): Promise<Shown> {
  const { definitions } = saver;
  const { table, form, records, may } = of;
  const record = records.get(saved.record);
  const seen = definitions.tables.get(table.id) ?? table;
  const back = backOf(saved, record, form, seen);
  const shown = (becomes: Shown['becomes'], problem: string | null, changes: Shown['changes'] = []): Shown => ({
    table: table.id,
    record: saved.record,
    what: table.label,
    title: record?.title ?? `#${saved.record}`,
    becomes,
    changes,
    problem,
  });
  if ('stays' in back) return shown('same', back.stays);
  if (back.becomes === 'same' || !record) return shown('same', null);
  const action = back.becomes === 'changed' ? 'change' : 'archive';
  if (!may[action].has(record.id))
    return shown(
      back.becomes,
      say('Your role may not {action} this record of {label}.', { action, label: table.label }),
    );
  const changes = await changesInWords(write, definitions, seen, saved, back);
  const problem = await inSavepoint(write, table, () => writeBack(write, saver, of, record, back));
  return shown(back.becomes, problem, changes);
}

async function changesInWords(
  write: Transaction,
  definitions: Definitions,
  table: TableDefinition,
  { before, after }: SavedRecord,
  back: Exclude<Back, { stays: string }>,
): Promise<Shown['changes']> {
  if (back.becomes !== 'changed') return [];
  const some = (of: Readonly<Record<string, unknown>>) =>
    Object.fromEntries(Object.entries(of).filter(([column]) => column in back.values));
  const titles = await titlesOf(write, definitions.tables, linksIn(table.fields, some(before), some(after)));
  return describeChanges(table.fields, some(after), some(before), titles);
}

/** Writes one record as it was, decided like its card. Gives what stands against it; null where nothing does. */
async function writeBack(
  write: Transaction,
  { definitions, actor, account }: Saver,
  { table, form }: OfTable,
  record: RecordView,
  back: Exclude<Back, { stays: string }>,
): Promise<string | null> {
  if (back.becomes === 'changed') {
    const origins = await originsOfRecord(write, form.tables, table.id, record.id);
    const opening = { account, now: civilNow(), record: { ...record, origins } };
    const reasons = Object.fromEntries(
      form.rules.flatMap((rule) => (rule.kind === 'ask' ? [[rule.id, 'put back as it was before']] : [])),
    );
    const { state, problems } = await decide(
      write,
      form,
      opening,
      { values: back.values, reasons },
      definitions.seen?.rows,
    );
    if (problems[0]) return problems[0].message;
    await updateRecord(write, table.id, record.id, changesOf(state));
    await keepOrigins(write, table.id, [[record.id, originsOf(state)]]);
  } else
    await updateRecord(write, table.id, record.id, {
      archived_at: back.becomes === 'archived' ? new Date().toISOString() : null,
    });
  await announce(write, actor.name, table.id, record.id);
  return null;
}
