import type { Value } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { quoted, recordsOf } from '@fiche/core/queries';
import { findField, linkedTable, typeOf } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { factsSql, readFacts } from '../records/index.ts';

/** A record that is there, as far as a row that changes it has to know it. */
export interface KnownRecord {
  readonly id: number;
  readonly version: number;
  readonly archived: boolean;
  readonly values: Readonly<Record<string, Value>>;
  /** The columns of linked records that the table's rules read. */
  readonly linked: Readonly<Record<string, { title: string; facts: Record<string, Value> }>>;
}

const keyOf = (values: readonly Value[]): string => JSON.stringify(values);

/** Finds the records that rows name by their key: asked once for a batch of rows. */
export async function recordsByKey(
  app: Database,
  form: PreparedForm,
  keys: readonly string[],
  rows: readonly ReadonlyMap<string, Value>[],
): Promise<(values: ReadonlyMap<string, Value>) => readonly KnownRecord[]> {
  const { table, tables } = form;
  const wanted = rows.map((row) => keys.map((key) => row.get(key) ?? null)).filter((key) => !key.includes(null));
  if (wanted.length === 0) return () => [];
  const columns = table.fields.map((field) => `r.${quoted(field.id)}`);
  const read = [...form.fields.values()].filter((field) => field.factPaths.length > 0 && linkedTable(field.field));
  const facts = read.map((field) => {
    const target = linkedTable(field.field) ?? '';
    return `(SELECT ${factsSql(tables, target, 'l', field.factPaths)} FROM ${recordsOf(tables, target)} l WHERE l.id = r.${quoted(field.id)}) AS "facts:${field.id}"`;
  });
  const typed = keys
    .map((key) => findField(table, key))
    .map((field) => (field ? typeOf(field).column(field.settings) : 'text'));
  const same = keys.map((key, at) => `r.${quoted(key)} = k.k${at}::${typed[at]}`).join(' AND ');
  const { rows: found } = await app.raw<{
    rows: (Record<string, unknown> & { id: number; version: number; archived: boolean })[];
  }>(
    `SELECT DISTINCT ON (r.id) r.id, r.version, r.archived_at IS NOT NULL AS archived, ${[...columns, ...facts].join(', ')}
     FROM unnest(${keys.map(() => '?::text[]').join(', ')}) AS k(${keys.map((_key, at) => `k${at}`).join(', ')}) JOIN ${recordsOf(tables, table.id)} r ON ${same}`,
    keys.map((_key, at) => wanted.map((key) => String(key[at]))),
  );
  const byKey = new Map<string, KnownRecord[]>();
  for (const row of found) {
    const values = Object.fromEntries(table.fields.map((field) => [field.id, (row[field.id] ?? null) as Value]));
    const linked = Object.fromEntries(
      read.flatMap((field) => {
        const known = row[`facts:${field.id}`] as Record<string, unknown> | null;
        const target = linkedTable(field.field) ?? '';
        return known ? [[field.id, { title: '', facts: { ...readFacts(tables, target, known) } }]] : [];
      }),
    );
    const key = keyOf(keys.map((one) => values[one] ?? null));
    byKey.set(key, [
      ...(byKey.get(key) ?? []),
      { id: row.id, version: row.version, archived: row.archived, values, linked },
    ]);
  }
  return (values) => byKey.get(keyOf(keys.map((key) => values.get(key) ?? null))) ?? [];
}
