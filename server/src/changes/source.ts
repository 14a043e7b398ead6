import type { RecordView } from '@fiche/core/api';
import { type ChangePlan, prepareSettings } from '@fiche/core/changes';
import { sameValue, type Value } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { recordsOf } from '@fiche/core/queries';
import { rightTo, rightToHistory } from '@fiche/core/rights';
import { type FieldId, findField, type RecordId, type TableDefinition, typeOf } from '@fiche/core/tables';
import { callersLimit } from '../access/index.ts';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';
import type { WantedFacts } from '../records/index.ts';
import { countListed, listedIds } from '../views/index.ts';
import { BATCH, type CapturedLine, type CapturedLines, linesOf } from './capturedLines.ts';
import type { Intent } from './intent.ts';
import { PastedBlock, pastedFields } from './pasted.ts';
import { findWritten, isPutBack, kindOfPutBack, type PlanRow } from './plans.ts';

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
  if (plan.of)
    return putBackSource(
      opened,
      linesOf(opened.app, opened.table.id, plan.of),
      plan.of.part === 'added' ? 'archive' : 'set',
      true,
    );
  const written = plan.putBack === null ? undefined : await findWritten(opened.app, opened.table.id, plan.putBack);
  if (!written) throw new Refusal(404, say('This change is not there any more.'));
  const { what, transaction, counts } = written;
  return putBackSource(
    opened,
    { ...linesOf(opened.app, opened.table.id, { transaction }), total: async () => counts.change },
    await kindOfPutBack(opened.app, opened.table.id, what),
  );
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
        ? { kind: 'refused', path: '', message: say('It is archived. Restore it first.') }
        : { kind: 'set', values: settings.valuesOf({ form, account, now, values, linked, hidden: {} }) },
  };
}

/** Checks that the caller's role writes a field. Throws 403. */
function requireSettable({ seen }: Definitions, table: TableDefinition, id: FieldId): void {
  const field = findField(table, id);
  if (field && seen && rightTo(seen.role, 'change', table, id) === 'no')
    throw new Refusal(403, say('Your role may not change {label}. Choose another field.', { label: field.label }));
}

/** Those of some records that the caller sees, and that meet a further condition. */
async function seenAmong(
  { app, definitions, table }: Opened,
  ids: readonly RecordId[],
  limit: string | null = null,
): Promise<RecordId[]> {
  const { rows } = await app.raw<{ rows: { id: RecordId }[] }>(
    `SELECT r.id FROM ${recordsOf(definitions.tables, table.id)} r WHERE r.id = ANY(?) AND ${limit ?? 'TRUE'} ORDER BY r.id`,
    [[...ids]],
  );
  return rows.map((row) => Number(row.id));
}

/** The records of a change that was written, each back to what the ledger says it was; but for what was changed since. */
function putBackSource(
  opened: Opened,
  captured: CapturedLines,
  kind: ChangeSource['kind'],
  /** Whether only those are told of whose histories the caller reads. */
  byHistory = false,
): ChangeSource {
  const { definitions, table, form } = opened;
  const lines = new Map<RecordId, CapturedLine>();
  const limit = byHistory ? callersLimit(definitions, table, 'r', ({ role }) => rightToHistory(role, table)) : null;
  async function* batches(): AsyncGenerator<readonly RecordId[]> {
    for await (const rows of captured.batches()) {
      lines.clear();
      for (const line of rows) lines.set(Number(line.record), line);
      yield await seenAmong(opened, [...lines.keys()], limit);
    }
  }
  const stored = (id: FieldId, json: unknown): Value => {
    const field = findField(table, id);
    return json === null || json === undefined || !field ? null : typeOf(field).stored(json);
  };
  return {
    kind,
    wanted: (field) => form.fields.get(field.id)?.factPaths ?? [],
    total: captured.total,
    batches,
    intentOf(record) {
      const line = lines.get(record.id);
      if (!line) return { kind: 'same' };
      if (line.added && !record.archived && record.version !== line.version)
        return {
          kind: 'refused',
          path: '',
          message: say('{changedBy} has changed it since it was added. It stays in use.', {
            changedBy: record.stamp.changedBy,
          }),
        };
      if (kind !== 'set') return record.archived === (kind === 'archive') ? { kind: 'same' } : { kind };
      if (record.archived) return { kind: 'refused', path: '', message: say('It has been archived since.') };
      // What the role does not see is neither put back nor told of.
      const columns = Object.keys({ ...line.before, ...line.after }).filter((id) =>
        findField(definitions.tables.get(table.id), id),
      );
      const since = columns.find((id) => !sameValue(record.values[id] ?? null, stored(id, line.after?.[id])));
      if (since !== undefined)
        return {
          kind: 'refused',
          path: since,
          message: say('{changedBy} has changed {label} since. It stays as it is.', {
            changedBy: record.stamp.changedBy,
            label: findField(table, since)?.label ?? since,
          }),
        };
      const written = columns.filter((id) => form.fields.get(id)?.readOnly === false);
      return { kind: 'set', values: Object.fromEntries(written.map((id) => [id, stored(id, line.before?.[id])])) };
    },
  };
}
