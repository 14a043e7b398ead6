import type { DraftReplay, RecordView } from '@fiche/core/api';
import { type EntryProblem, type EntryState, isExcluded, type Sent } from '@fiche/core/entry';
import { holdsFiles, isBlank, isNumbered, sameValue, type Value, type Values } from '@fiche/core/fields';
import { type PreparedField, type PreparedForm, withoutDestinations } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { isGiven, type RecordId, targetTable, typeOf } from '@fiche/core/tables';
import { ask, type Database } from '../database/index.ts';
import { type Decided, decideMany } from '../deciding/index.ts';
import type { Definitions, StoredForm } from '../definitions/index.ts';
import { prepared } from '../forms/index.ts';
import { Refusal } from '../http/index.ts';
import { findRecordsWhere, linesOfForms, type Origins, originsOfRecords, titlesOf } from '../records/index.ts';

/** Records that are decided again, so many together, and named of each kind. */
const LAST = 500;
const BATCH = 50;
const NAMED = 50;
/** Lines of the ledger that are looked through for them. */
const LINES = 20_000;

type Named = DraftReplay['refused'][number];

/** A record as it was saved, with what is known of how. */
interface Saved {
  readonly record: RecordView;
  readonly lines: Readonly<Record<string, readonly RecordView[]>>;
  readonly origins: Origins;
  readonly account: string;
  readonly reasons: ReadonlyMap<string, string>;
}

/**
 * Decides the last records that the published version of a form saved again under its draft: from their values and the reasons that
 * were given, with the choices of today. Tells what would be refused, asked about, and filled or calculated otherwise. Throws 422
 * for a form that was never published.
 */
export async function replayDraft(database: Database, definitions: Definitions, row: StoredForm): Promise<DraftReplay> {
  if (!row.live)
    throw new Refusal(422, say('The form was never published: there is nothing that its published version saved.'));
  const form = prepared(definitions, withoutDestinations(row.draft));
  const live = prepared(definitions, withoutDestinations(row.live));
  const found = await savedThrough(database, row.live.label, row.live.table);
  const replay: DraftReplay = {
    looked: 0,
    counts: { refused: 0, asked: 0, differ: 0 },
    refused: [],
    asked: [],
    differ: [],
  };
  for (let from = 0; from < found.length; from += BATCH) {
    const saved = await readSaved(database, form, found.slice(from, from + BATCH));
    const now = civilNow();
    const decided = await decideMany(
      database,
      form,
      saved.map((one) => ({ opening: { account: one.account, now, record: null }, sent: sentOf(form, one) })),
    );
    for (const [at, one] of saved.entries()) await tell(database, replay, { form, live }, one, decided[at] as Decided);
    replay.looked += saved.length;
  }
  return replay;
}

interface SavedLine {
  readonly record: RecordId;
  readonly account: string;
  readonly reasons: readonly { readonly message: string; readonly reason: string }[] | null;
}

/** The newest records that were saved through a form or its page, each with its last such line. */
async function savedThrough(database: Database, label: string, table: string): Promise<SavedLine[]> {
  const lines = await ask<SavedLine>(
    database,
    `SELECT record::bigint AS record, account, reasons FROM ledger.line
     WHERE place = ? AND through->>'kind' IN ('form', 'page') AND through->>'label' = ? AND kind IN ('add', 'change') ORDER BY id DESC LIMIT ${LINES}`,
    [`data.${table}`, label],
  );
  const newest = new Map<RecordId, SavedLine>();
  for (const line of lines) if (!newest.has(Number(line.record))) newest.set(Number(line.record), line);
  return [...newest.values()].slice(0, LAST);
}

async function readSaved(database: Database, form: PreparedForm, lines: readonly SavedLine[]): Promise<Saved[]> {
  const ids = lines.map((line) => Number(line.record));
  const records = await findRecordsWhere(
    database,
    form.tables,
    form.table.id,
    'r.id = ANY(?) AND r.archived_at IS NULL',
    [ids],
    (field) => form.fields.get(field.id)?.factPaths ?? [],
  );
  const origins = await originsOfRecords(database, form.tables, form.table.id, ids);
  const byId = new Map(records.map((record) => [record.id, record]));
  const there = lines.flatMap((line) => {
    const record = byId.get(Number(line.record));
    return record ? [{ ...line, record }] : [];
  });
  const linesOf = new Map<RecordId, Saved['lines']>();
  for (const account of new Set(there.map((one) => one.account))) {
    const own = there.filter((one) => one.account === account).map((one) => one.record.id);
    const lines = await linesOfForms(database, form, own, { asking: { account, now: civilNow() } });
    for (const [id, some] of lines) linesOf.set(id, some);
  }
  return there.map(({ record, account, reasons }) => ({
    record,
    lines: linesOf.get(record.id) ?? {},
    origins: origins.get(record.id) ?? {},
    account,
    reasons: new Map((reasons ?? []).map((one) => [one.message, one.reason])),
  }));
}

/** What was entered: without what the form filled or calculated, which the draft is to find by itself. */
const entered = (form: PreparedForm, values: Values, origins: Origins): Values =>
  Object.fromEntries(
    [...form.fields.values()]
      .filter(({ id, field }) => !isGiven(field) && !holdsFiles(field) && origins[id] === undefined)
      .map(({ id }) => [id, values[id] ?? null]),
  );

/** A saved record as it would be sent to the draft. */
function sentOf(form: PreparedForm, { record, lines, origins, reasons }: Saved): Sent {
  const said = (of: PreparedForm): Record<string, string> =>
    Object.fromEntries(
      of.rules.flatMap((rule) => {
        const reason = reasons.get(rule.message);
        return reason === undefined ? [] : [[rule.id, reason]];
      }),
    );
  return {
    values: entered(form, record.values, origins),
    reasons: said(form),
    lines: Object.fromEntries(
      [...form.subforms.values()].map((subform) => [
        subform.id,
        (lines[subform.id] ?? []).map((line, at) => ({
          key: `l${at}`,
          values: entered(subform.form, line.values, (line.origins ?? {}) as Origins),
          reasons: said(subform.form),
        })),
      ]),
    ),
  };
}

/** Adds what becomes of one record to the replay. */
async function tell(
  database: Database,
  replay: DraftReplay,
  { form, live }: { readonly form: PreparedForm; readonly live: PreparedForm },
  { record, origins }: Saved,
  { state, problems }: Decided,
): Promise<void> {
  const of = (field: string, message: string): Named => ({ record: record.id, title: record.title, field, message });
  const labelOf = (path: string): string =>
    form.fields.get(path)?.label ?? form.subforms.get(path.split('.')[0] ?? '')?.label ?? '';
  const asks = (problems as readonly EntryProblem[]).filter((one) => one.asks);
  const refused = problems.filter((one) => !(one as EntryProblem).asks);
  if (refused.length > 0) replay.counts.refused++;
  else if (asks.length > 0) replay.counts.asked++;
  for (const one of refused) if (replay.refused.length < NAMED) replay.refused.push(of(labelOf(one.path), one.message));
  for (const one of asks) if (replay.asked.length < NAMED) replay.asked.push(of(labelOf(one.path), one.message));
  const differ = [...live.fields.values()].filter(({ id, placed, field }) => {
    // Numbers are drawn when a record is saved, and only then.
    const compared = placed && form.fields.get(id)?.placed && !holdsFiles(field) && !isNumbered(field);
    return compared && !sameValue(blankAsNull(record.values[id]), valueIn(state, id));
  });
  if (differ.length > 0) replay.counts.differ++;
  for (const field of differ.slice(0, Math.max(0, NAMED - replay.differ.length))) {
    const [before, after] = [record.values[field.id] ?? null, valueIn(state, field.id)];
    const [said, becomes] = [await words(database, form, field, before), await words(database, form, field, after)];
    const both = { said, becomes };
    replay.differ.push(
      of(
        field.label,
        origins[field.id]
          ? say('{said} would be filled as {becomes}', both)
          : isGiven(field.field)
            ? say('{said} would be calculated as {becomes}', both)
            : say('{said} would be saved as {becomes}', both),
      ),
    );
  }
}

const blankAsNull = (value: Value | undefined): Value => (isBlank(value) ? null : (value as Value));

/** The value that would be saved: blank for a field that is not shown, unless it keeps its value. */
const valueIn = (state: EntryState, id: string): Value =>
  isExcluded(state, id) ? null : blankAsNull(state.values[id]);

async function words(database: Database, form: PreparedForm, { field }: PreparedField, value: Value): Promise<string> {
  if (isBlank(value)) return say('blank');
  const target = targetTable(field);
  if (target === undefined) return typeOf(field).format(value, field.settings);
  const ids = [value].flat().map((id) => Number(id));
  const titles = await titlesOf(
    database,
    form.tables,
    ids.map((id) => ({ table: target, id })),
  );
  return ids.map((id) => titles.get(`${target}:${id}`) ?? `#${id}`).join(', ');
}
