import type { RecordView } from '@fiche/core/api';
import { changesOf, originsOf, reasonsGiven } from '@fiche/core/entry';
import type { Values } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { relation } from '@fiche/core/queries';
import type { FieldId, TableDefinition, Tables } from '@fiche/core/tables';
import { definitionsFor, requireWriteRight } from '../access/index.ts';
import type { Database } from '../database/index.ts';
import { type Decided, decideMany } from '../deciding/index.ts';
import { type Definitions, requireInUse } from '../definitions/index.ts';
import { prepared, tableForm } from '../forms/index.ts';
import { notFound } from '../http/index.ts';
import { findRecordsWhere, type Origins, originsOfRecords } from '../records/index.ts';
import { checkTogether, forbiddenRows, makeStaging, Staging, stagedFields } from '../staging/index.ts';
import type { Worker } from '../tasks/index.ts';
import { Findings } from './findings.ts';
import { findPlan, type PlanRow, stagingOfChange } from './plans.ts';
import { type ChangeSource, openSource } from './source.ts';

/** The right that a change of many needs, by what it does. */
export const actionOf = (kind: ChangeSource['kind']): 'change' | 'archive' => (kind === 'set' ? 'change' : 'archive');

/** A plan with what it works on, as the role of whoever made it has that now. Throws 403, 404 and 422. */
export async function openPlan(app: Database, row: PlanRow) {
  const definitions = await definitionsFor(app, row.cabinet, row.account);
  const seen = definitions.tables.get(row.table);
  const whole: Tables = definitions.seen?.whole.tables ?? definitions.tables;
  const table = seen && whole.get(row.table);
  if (!table) throw notFound(say('This table'));
  const form = prepared(definitions, tableForm(definitions, row.table));
  const source = await openSource({ app, definitions, table, form, account: row.account }, row);
  requireWriteRight(definitions, table, actionOf(source.kind));
  requireInUse(definitions, row.cabinet, [table]);
  return { definitions, whole, table, form, source };
}

/**
 * Decides every record of a change as its card would be decided: with its fills, calculations, narrowing and rules. What can be
 * written waits in a table of its own; what stands against the others is kept with the plan. Nothing is written.
 */
export const checkChange: Worker = async (work) => {
  const { app, owner } = work.databases;
  const row = await findPlan(app, work.table ?? '', work.actor.name, (work.plan as { id: number }).id);
  const { definitions, whole, table, form, source } = await openPlan(app, row);
  const fields = stagedFields(table);
  const name = stagingOfChange(row.id);
  await makeStaging(owner, name, fields);
  const staging = await Staging.open(owner, name, fields);
  const findings = new Findings();
  const columns = new Set<FieldId>();
  const total = await source.total();
  let number = 0;
  try {
    for await (const ids of source.batches()) {
      const records = await findRecordsWhere(app, whole, table.id, 'r.id = ANY(?) ORDER BY r.id', [ids], source.wanted);
      for (const one of await decideBatch(app, { definitions, form, source, row }, records)) {
        if (one.kind === 'same') findings.addSame();
        else if (one.kind === 'refused') findings.addRefused(one.record.id, one.problems);
        else {
          for (const column of Object.keys(one.changes)) columns.add(column);
          findings.addChanged(inColumns(one.record, one.changes));
          await staging.write({
            number: ++number,
            record: one.record.id,
            version: one.record.version,
            action: 'change',
            values: new Map(
              fields.map(({ id }) => [id, (id in one.changes ? one.changes[id] : one.record.values[id]) ?? null]),
            ),
            origins: one.origins,
            ...(one.letThrough.length > 0 ? { beside: one.letThrough } : {}),
          });
        }
      }
      await work.progress(findings.counts.found, Math.max(total, findings.counts.found));
    }
    await staging.close();
    await refuseTogether(owner, definitions, table, source, row.id, findings);
  } catch (error) {
    await staging.drop();
    throw error;
  }
  await owner('fiche.change_plan')
    .where({ id: row.id })
    .update({
      state: 'checked',
      counts: JSON.stringify(findings.counts),
      preview: JSON.stringify(findings.preview()),
      table_revision: table.revision,
      columns: [...columns],
    });
  return { ...findings.counts, id: row.id };
};

type Outcome =
  | { readonly kind: 'same' }
  | { readonly kind: 'refused'; readonly record: RecordView; readonly problems: Decided['problems'] }
  | {
      readonly kind: 'changed';
      readonly record: RecordView;
      readonly changes: Values;
      readonly origins: Origins | undefined;
      /** The rules that ask, and that the reason of the plan lets it through. */
      readonly letThrough: readonly string[];
    };

interface Deciding {
  readonly definitions: Definitions;
  readonly form: PreparedForm;
  readonly source: ChangeSource;
  readonly row: PlanRow;
}

async function decideBatch(
  app: Database,
  { definitions, form, source, row }: Deciding,
  records: readonly RecordView[],
): Promise<Outcome[]> {
  await source.prepare?.(records);
  const intents = records.map((record) => ({ record, intent: source.intentOf(record) }));
  const origins = await originsOfRecords(
    app,
    form.tables,
    form.table.id,
    records.map((record) => record.id),
  );
  const now = civilNow();
  const toDecide = intents.flatMap(({ record, intent }) =>
    intent.kind === 'set'
      ? [
          {
            opening: { account: row.account, now, record: { ...record, origins: origins.get(record.id) ?? {} } },
            sent: { values: intent.values, reasons: row.plan.reasons },
          },
        ]
      : [],
  );
  const decided = await decideMany(app, form, toDecide, definitions.seen?.rows);
  let next = 0;
  return intents.map(({ record, intent }): Outcome => {
    if (intent.kind === 'same') return { kind: 'same' };
    if (intent.kind === 'refused')
      return { kind: 'refused', record, problems: [{ path: intent.path, rule: 'record', message: intent.message }] };
    if (intent.kind !== 'set') return { kind: 'changed', record, changes: {}, origins: undefined, letThrough: [] };
    const { state, problems } = decided[next++] as Decided;
    if (problems.length > 0) return { kind: 'refused', record, problems };
    const changes = changesOf(state);
    if (Object.keys(changes).length === 0) return { kind: 'same' };
    const traced = originsOf(state);
    const same = JSON.stringify(traced) === JSON.stringify(origins.get(record.id) ?? {});
    const letThrough = reasonsGiven(state).map((one) => one.rule);
    return { kind: 'changed', record, changes, origins: same ? undefined : traced, letThrough };
  });
}

const inColumns = (record: RecordView, changes: Values) => ({
  record: record.id,
  before: Object.fromEntries(Object.keys(changes).map((id) => [id, record.values[id] ?? null])),
  after: changes,
});

/** Takes out what only all records together show, and what the role does not allow. */
async function refuseTogether(
  owner: Database,
  definitions: Definitions,
  table: TableDefinition,
  source: ChangeSource,
  id: number,
  findings: Findings,
): Promise<void> {
  const staging = stagingOfChange(id);
  const refuse = async (where: string, field: FieldId, message: string): Promise<void> => {
    const { rows } = await owner.raw<{ rows: { record: number }[] }>(
      `DELETE FROM ${staging} s WHERE ${where} RETURNING "record#" AS record`,
    );
    findings.refuseChanged(
      rows.map((row) => Number(row.record)),
      { path: field, rule: 'together', message },
    );
  };
  for (const { where, message } of forbiddenRows(definitions, table, relation(table.id), actionOf(source.kind)))
    await refuse(where, '', message);
  // What goes out of use can stand against nothing.
  if (source.kind === 'archive') return;
  const twice = (label: string): string =>
    say('Another of these records gets the same {label}. It must be different in each record.', { label });
  await checkTogether({ staging, table, there: true, twice }, refuse);
}
