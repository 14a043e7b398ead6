import type { routes } from '@fiche/core/api';
import { quoted, relation } from '@fiche/core/queries';
import { newFieldSchema, type TableDefinition, typeOf } from '@fiche/core/tables';
import type { z } from 'zod';
import type { Transaction } from '../database/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';
import { addField } from './fields.ts';
import { createTable, refuseIf, tableNow } from './store.ts';

/** Makes an option list: a table of the allowed combinations, with a field for each level. As the owner. */
export async function createList(
  owner: Transaction,
  cabinet: string,
  label: string,
  levels: readonly string[],
): Promise<TableDefinition> {
  const list = await createTable(owner, cabinet, label, '', { kind: 'list' });
  for (const level of levels)
    await addField(owner, list.id, newFieldSchema.parse({ label: level, type: 'text', required: true }));
  return tableNow(owner, list.id);
}

export type Combinations = z.infer<typeof routes.saveCombinations.body>;

/**
 * Changes the combinations of an option list, all of it or nothing. Refused with each row at its place: a level that is
 * empty, a combination that occurs twice, one that somebody else has changed meanwhile. The actor must be set.
 */
export async function saveCombinations(
  transaction: Transaction,
  table: TableDefinition,
  { add, change, archive }: Combinations,
): Promise<{ added: number; changed: number; archived: number }> {
  if (table.kind !== 'list') throw new Refusal(409, `${table.label} is not an option list.`);
  const place = relation(table.id);
  const levels = table.fields.map((field) => quoted(field.id));
  const { rows } = await transaction.raw<{ rows: { id: number; version: number; levels: string[] }[] }>(
    `SELECT id, version, ARRAY[${levels.map((level) => `coalesce(${level}, '')`).join(', ')}] AS levels FROM ${place} WHERE archived_at IS NULL ORDER BY id FOR UPDATE`,
  );
  const known = new Map(rows.map((row) => [row.id, row]));
  for (const one of [...change, ...archive])
    if (known.get(one.id)?.version !== one.version)
      throw new Refusal(
        409,
        'Somebody else has changed this list meanwhile. Reload to see it, then make your changes again.',
      );
  const gone = new Set([...archive, ...change].map((one) => one.id));
  const taken = new Map(rows.filter((row) => !gone.has(row.id)).map((row) => [keyOf(row.levels), 'the list']));
  const take = (given: readonly string[], path: string): string[] => {
    const words = table.fields.map((field, at) => {
      const read = typeOf(field).parse(given[at] ?? '', field.settings);
      if (!read.ok)
        throw unacceptable([{ path: `${path}.${at}`, rule: 'form', message: `${field.label}: ${read.message}` }]);
      if (read.value === null)
        throw unacceptable([
          {
            path: `${path}.${at}`,
            rule: 'required',
            message: `${given.filter((word) => word !== '').join(' › ') || 'A row'} has no ${field.label}. Fill every level in.`,
          },
        ]);
      return String(read.value);
    });
    refuseIf(
      taken.has(keyOf(words))
        ? { path, rule: 'twice', message: `${words.join(' › ')} occurs twice. Keep one of them.` }
        : undefined,
    );
    taken.set(keyOf(words), path);
    return words;
  };
  const changed = change.map((one, at) => ({ id: one.id, words: take(one.levels, `change.${at}`) }));
  const added = add.map((one, at) => take(one, `add.${at}`));
  if (archive.length > 0)
    await transaction.raw(`UPDATE ${place} SET archived_at = now() WHERE id = ANY(?)`, [archive.map((one) => one.id)]);
  for (const { id, words } of changed)
    await transaction.raw(`UPDATE ${place} SET ${levels.map((level) => `${level} = ?`).join(', ')} WHERE id = ?`, [
      ...words,
      id,
    ]);
  if (added.length > 0)
    await transaction.raw(
      `INSERT INTO ${place} (${levels.join(', ')}) SELECT ${levels.map((_level, at) => `row->>${at}`).join(', ')} FROM jsonb_array_elements(?::jsonb) WITH ORDINALITY AS t(row, n) ORDER BY n`,
      [JSON.stringify(added)],
    );
  return { added: added.length, changed: changed.length, archived: archive.length };
}

const keyOf = (levels: readonly string[]): string => JSON.stringify(levels);
