import { recordsNamed } from '@fiche/core/rights';
import type { TableId, Tables } from '@fiche/core/tables';
import { type CapturedView, recordsInView } from '@fiche/core/views';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';

/** A line of the ledger, as far as its names need it. */
interface NamedLine {
  readonly place: string;
  readonly record: string;
  readonly before: Record<string, unknown> | null;
  readonly after: Record<string, unknown> | null;
}

/** The records that a line about a role or a view names as values. */
export function namedInDefinition(row: NamedLine, tables: Tables, views: ReadonlyMap<string, TableId>) {
  if (row.place === 'fiche.role') return [row.before, row.after].flatMap((one) => recordsNamed(one, tables));
  const table = row.place === 'fiche.view' ? views.get(row.record) : undefined;
  return table === undefined
    ? []
    : [row.before, row.after].flatMap((one) => recordsInView(one as CapturedView | null, table, tables));
}

/**
 * The names of tokens, of what was seen as which role, of views and of label layouts, that lines are about: by `token`, `seen_as`,
 * `view` or `label_layout` and number; and the tables of the views.
 */
export async function namesOfNumbers(
  app: Database,
  { roles }: Definitions,
  rows: readonly NamedLine[],
): Promise<{ names: ReadonlyMap<string, string>; views: ReadonlyMap<string, TableId> }> {
  const idsOf = (place: string): number[] => rows.flatMap((row) => (row.place === place ? [Number(row.record)] : []));
  const [tokens, seen] = [idsOf('fiche.token'), idsOf('fiche.seen_as')];
  const named = new Map<string, string>();
  const found: { id: number; name: string }[] =
    tokens.length === 0 ? [] : await app('fiche.token').whereIn('id', tokens).select('id', 'name');
  for (const { id, name } of found) named.set(`token ${id}`, name);
  const views: { id: number; cabinet: string; login: string; role: string }[] =
    seen.length === 0 ? [] : await app('fiche.seen_as').whereIn('id', seen).select('id', 'cabinet', 'login', 'role');
  for (const { id, cabinet, login, role } of views)
    named.set(`seen_as ${id}`, `${login} as ${roles.get(cabinet)?.get(role)?.label ?? role}`);
  const tables = new Map<string, TableId>();
  for (const [place, name] of [
    ['fiche.view', 'view'],
    ['fiche.label_layout', 'label_layout'],
  ] as const) {
    const ids = idsOf(place).map(String);
    if (ids.length === 0) continue;
    const first: { record: string; after: CapturedView }[] = await app('ledger.line')
      .where({ place, kind: 'add' })
      .whereIn('record', ids)
      .select('record', 'after');
    for (const { record, after } of first) {
      if (name === 'view' && after.table_id !== undefined) tables.set(record, after.table_id);
      named.set(`${name} ${record}`, after.label ?? '');
    }
    const now: { id: number; label: string }[] = await app(place).whereIn('id', ids).select('id', 'label');
    for (const { id, label } of now) named.set(`${name} ${id}`, label);
  }
  return { names: named, views: tables };
}
