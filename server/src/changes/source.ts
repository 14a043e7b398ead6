import type { RecordView } from '@fiche/core/api';
import { type ChangePlan, prepareSettings } from '@fiche/core/changes';
import { sameValue, type Value } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { civilNow } from '@fiche/core/office';
import { recordsOf } from '@fiche/core/queries';
import { rightTo } from '@fiche/core/rights';
import { type FieldId, findField, type RecordId, type TableDefinition, typeOf } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';
import type { WantedFacts } from '../records/index.ts';
import { countListed, listedIds } from '../views/index.ts';
import type { Intent } from './intent.ts';
import { PastedBlock, pastedFields } from './pasted.ts';
import { findWritten, isPutBack, type PlanRow, type WrittenChange } from './plans.ts';

/** Records that are read, decided and staged at a time. */
const BATCH = 500;

/** The records of a change, batch by batch, and what is to become of each. */
export interface ChangeSource {
  /** What the records are changed by: `archive` and `restore` leave their values as they are. */
  readonly kind: 'set' | 'archive' | 'restore';
  /** What of linked records has to be known of each. */
  readonly wanted: WantedFacts;
  /** How many records there are to look at, about. */
  total(): Promise<number>;
  batches(): AsyncGenerator<readonly RecordId[]>;
  /** Reads what is needed for the intents of some records, before these are asked for. */
  prepare?(records: readonly RecordView[]): Promise<void>;
  intentOf(record: RecordView): Intent;
}

interface Opened {
  readonly app: Database;
  readonly definitions: Definitions;
  readonly table: TableDefinition;
  readonly form: PreparedForm;
  readonly account: string;
}

/** Opens what a plan reads. Throws 422 at the place of what cannot be, 404 for a change that is not there. */
export async function openSource(opened: Opened, { plan }: PlanRow): Promise<ChangeSource> {
  if (!isPutBack(plan)) return plannedSource(opened, plan);
  const written = await findWritten(opened.app, opened.table.id, plan.putBack);
  if (!written) throw new Refusal(404, 'This change is not there any more.');
  return putBackSource(opened, written);
}

function plannedSource(opened: Opened, { what, records }: ChangePlan): ChangeSource {
  const { app, definitions, table, form, account } = opened;
  const now = civilNow();
  const asking = definitions.seen?.asking ?? { account, now };
  async function* batches(): AsyncGenerator<readonly RecordId[]> {
    if (records.kind === 'some') {
      const ids = [...new Set(records.ids)].sort((a, b) => a - b);
      for (let from = 0; from < ids.length; from += BATCH) yield await seenAmong(opened, ids.slice(from, from + BATCH));
      return;
    }
    const except = new Set(records.except);
    for (let after = 0; ; ) {
      const ids = await listedIds(app, definitions.tables, table, records, { asking }, { after, limit: BATCH });
      if (ids.length === 0) return;
      after = ids.at(-1) ?? after;
      yield ids.filter((id) => !except.has(id));
    }
  }
  const total = async (): Promise<number> =>
    records.kind === 'some'
      ? records.ids.length
      : (await countListed(app, definitions.tables, table, records, { asking })) - records.except.length;
  if (what.kind === 'paste') {
    const fields = pastedFields(definitions.tables.get(table.id) ?? table, what);
    for (const { id } of fields) requireSettable(definitions, table, id);
    const block = new PastedBlock(app, definitions, form, fields, what);
    return {
      kind: 'set',
      wanted: (field) => form.fields.get(field.id)?.factPaths ?? [],
      total,
      batches,
      prepare: (found) => block.prepare(found),
      intentOf: (record) => block.intentOf(record),
    };
  }
  if (what.kind !== 'set')
    return {
      kind: what.kind,
      wanted: () => [],
      total,
      batches,
      intentOf: (record) => (record.archived === (what.kind === 'archive') ? { kind: 'same' } : { kind: what.kind }),
    };
  for (const { field: id } of what.set) requireSettable(definitions, table, id);
  const settings = prepareSettings(what.set, definitions.tables.get(table.id) ?? table, definitions.tables);
  if ('problems' in settings)
    throw unacceptable(settings.problems.map((one) => ({ ...one, path: `what.${one.path}` })));
  const wanted: WantedFacts = (field) => [
    ...(form.fields.get(field.id)?.factPaths ?? []),
    ...settings.reads.flatMap((path) => (path.startsWith(`${field.id}.`) ? [path.slice(field.id.length + 1)] : [])),
  ];
  return {
    kind: 'set',
    wanted,
    total,
    batches,
    intentOf: ({ archived, values, linked }) =>
      archived
        ? { kind: 'refused', path: '', message: 'It is archived. Restore it first.' }
        : { kind: 'set', values: settings.valuesOf({ form, account, now, values, linked, hidden: {} }) },
  };
}

/** Checks that the caller's role writes a field. Throws 403. */
function requireSettable({ seen }: Definitions, table: TableDefinition, id: FieldId): void {
  const field = findField(table, id);
  if (field && seen && rightTo(seen.role, 'change', table, id) === 'no')
    throw new Refusal(403, `Your role may not change ${field.label}. Choose another field.`);
}

/** Those of some records that the caller sees. */
async function seenAmong({ app, definitions, table }: Opened, ids: readonly RecordId[]): Promise<RecordId[]> {
  const { rows } = await app.raw<{ rows: { id: RecordId }[] }>(
    `SELECT r.id FROM ${recordsOf(definitions.tables, table.id)} r WHERE r.id = ANY(?) ORDER BY r.id`,
    [[...ids]],
  );
  return rows.map((row) => Number(row.id));
}

interface CapturedLine {
  readonly id: number;
  readonly record: string;
  readonly before: Readonly<Record<string, unknown>> | null;
  readonly after: Readonly<Record<string, unknown>> | null;
}

/** The records of a change that was written, each back to what the ledger says it was; but for what was changed since. */
function putBackSource(opened: Opened, { what, transaction, counts }: WrittenChange): ChangeSource {
  const { app, definitions, table, form } = opened;
  const lines = new Map<RecordId, CapturedLine>();
  async function* batches(): AsyncGenerator<readonly RecordId[]> {
    for (let after = 0; ; ) {
      const { rows } = await app.raw<{ rows: CapturedLine[] }>(
        `SELECT id, record, before, after FROM ledger.line WHERE transaction = ? AND place = ? AND id > ? ORDER BY id LIMIT ?`,
        [transaction, `data.${table.id}`, after, BATCH],
      );
      if (rows.length === 0) return;
      after = Number(rows.at(-1)?.id);
      lines.clear();
      for (const line of rows) lines.set(Number(line.record), line);
      yield await seenAmong(opened, [...lines.keys()]);
    }
  }
  const past = isPutBack(what) ? undefined : what.what.kind;
  const kind = past === 'archive' ? 'restore' : past === 'restore' ? 'archive' : 'set';
  const stored = (id: FieldId, json: unknown): Value => {
    const field = findField(table, id);
    return json === null || json === undefined || !field ? null : typeOf(field).stored(json);
  };
  return {
    kind,
    wanted: (field) => form.fields.get(field.id)?.factPaths ?? [],
    total: async () => counts.change,
    batches,
    intentOf(record) {
      const line = lines.get(record.id);
      if (!line) return { kind: 'same' };
      if (kind !== 'set') return record.archived === (kind === 'archive') ? { kind: 'same' } : { kind };
      if (record.archived) return { kind: 'refused', path: '', message: 'It has been archived since.' };
      // What the role does not see is neither put back nor told of.
      const columns = Object.keys({ ...line.before, ...line.after }).filter((id) =>
        findField(definitions.tables.get(table.id), id),
      );
      const since = columns.find((id) => !sameValue(record.values[id] ?? null, stored(id, line.after?.[id])));
      if (since !== undefined)
        return {
          kind: 'refused',
          path: since,
          message: `${record.stamp.changedBy} has changed ${findField(table, since)?.label ?? since} since. It stays as it is.`,
        };
      const written = columns.filter((id) => form.fields.get(id)?.readOnly === false);
      return { kind: 'set', values: Object.fromEntries(written.map((id) => [id, stored(id, line.before?.[id])])) };
    },
  };
}
