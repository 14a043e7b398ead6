import type { ChangeView } from '@fiche/core/api';
import { describeChange, recordsNamed } from '@fiche/core/changes';
import { describeChanges, linksIn } from '@fiche/core/history';
import { say } from '@fiche/core/languages';
import { findField, type TableDefinition } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { titlesOf } from '../records/index.ts';
import { isPutBack, type PlanRow, type StoredPlan } from './plans.ts';

/** What a plan does, in words: `Waived becomes yes`. */
export async function planWords(
  app: Database,
  { tables }: Definitions,
  table: TableDefinition,
  plan: StoredPlan,
): Promise<string> {
  if (isPutBack(plan)) return say('put back as before');
  return describeChange(plan.what, table, tables, await titlesOf(app, tables, recordsNamed(plan.what, table)));
}

/** A plan as somebody with these definitions is told of it: without fields and records that they do not see. */
export async function changeView(
  app: Database,
  definitions: Definitions,
  table: TableDefinition,
  { id, state, plan, counts, preview }: PlanRow,
): Promise<ChangeView> {
  const { tables } = definitions;
  const seen = (columns: Readonly<Record<string, unknown>>): Record<string, unknown> =>
    Object.fromEntries(Object.entries(columns).filter(([column]) => findField(table, column)));
  const changed = (preview?.changed ?? []).map(({ record, before, after }) => ({
    record,
    before: seen(before),
    after: seen(after),
  }));
  const refused = preview?.refused ?? [];
  const titles = await titlesOf(app, tables, [
    ...[...changed, ...refused].map(({ record }) => ({ table: table.id, id: record })),
    ...changed.flatMap(({ before, after }) => linksIn(table.fields, before, after)),
  ]);
  const titleOf = (record: number): string => titles.get(`${table.id}:${record}`) ?? `#${record}`;
  return {
    id,
    state,
    words: await planWords(app, definitions, table, plan),
    counts,
    changed: changed.map(({ record, before, after }) => ({
      record,
      title: titleOf(record),
      changes: describeChanges(table.fields, before, after, titles),
    })),
    refused: refused.map(({ record, problems }) => ({
      record,
      title: titleOf(record),
      problems: problems.map(({ path, message }) => ({ field: findField(table, path)?.label ?? '', message })),
    })),
    reasons: [...(preview?.reasons ?? [])],
    asked: [...(preview?.asked ?? [])],
  };
}
