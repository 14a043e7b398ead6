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
 * The names of tokens, of what was seen as which role, and of views, that lines are about: by `token`, `seen_as` or `view`
 * and number; and the tables of the views.
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
  const viewed = idsOf('fiche.view').map(String);
  const first: { record: string; after: CapturedView }[] =
    viewed.length === 0
      ? []
      : await app('ledger.line')
          .where({ place: 'fiche.view', kind: 'add' })
          .whereIn('record', viewed)
          .select('record', 'after');
  for (const { record, after } of first) {
    if (after.table_id !== undefined) tables.set(record, after.table_id);
    named.set(`view ${record}`, after.label ?? '');
  }
  const now: { id: number; label: string }[] =
    viewed.length === 0 ? [] : await app('fiche.view').whereIn('id', viewed).select('id', 'label');
  for (const { id, label } of now) named.set(`view ${id}`, label);
  return { names: named, views: tables };
}
