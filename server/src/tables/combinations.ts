import type { routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import { labelTaken, newFieldSchema, type TableDefinition, type TableId, typeOf } from '@fiche/core/tables';
import type { z } from 'zod';
import type { Transaction } from '../database/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';
import { addField } from './addField.ts';
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

/**
 * Puts all levels of an option list into a table, each as a choice from its level; a label that is taken there is told
 * apart by the list's. Without a table, a new one is made. As the owner, in a transaction.
 */
export async function useList(
  owner: Transaction,
  list: TableDefinition,
  into: { readonly table: TableId } | { readonly label: string },
): Promise<TableDefinition> {
  if (list.kind !== 'list') throw new Refusal(409, say('{label} is not an option list.', { label: list.label }));
  const table =
    'table' in into ? await tableNow(owner, into.table) : await createTable(owner, list.cabinet, into.label, '');
  if (table.cabinet !== list.cabinet || table.kind === 'list')
    throw unacceptable([
      { path: 'into', rule: 'table', message: say('Choose a table of this cabinet that holds records.') },
    ]);
  for (const level of list.fields) {
    const { fields } = await tableNow(owner, table.id);
    const labels = fields.map((one) => one.label);
    const label = labelTaken(level.label, labels, 'label') ? `${level.label} (${list.label})` : level.label;
    const settings = { choices: [], level: { table: list.id, column: level.id } };
    await addField(owner, table.id, newFieldSchema.parse({ label, type: 'choice', settings }));
  }
  return tableNow(owner, table.id);
}

type Combinations = z.infer<typeof routes.saveCombinations.body>;

/**
 * Changes the combinations of an option list, all of it or nothing. Refused with each row at its place: a level that is
 * empty, a combination that occurs twice, one that somebody else has changed meanwhile. The actor must be set.
 */
export async function saveCombinations(
  transaction: Transaction,
  table: TableDefinition,
  { add, change, archive }: Combinations,
): Promise<{ added: number; changed: number; archived: number }> {
  if (table.kind !== 'list') throw new Refusal(409, say('{label} is not an option list.', { label: table.label }));
  const gone = [...archive, ...change].map((one) => one.id);
  const present = await wordsOf(transaction, table, gone);
  for (const one of [...change, ...archive])
    if (present.get(one.id)?.version !== one.version)
      throw new Refusal(
        409,
        say('Somebody else has changed this list meanwhile. Reload to see it, then make your changes again.'),
      );
  const rows = [
    ...change.map((one, at) => ({ path: `change.${at}`, words: readWords(table, one.levels, `change.${at}`) })),
    ...add.map((one, at) => ({ path: `add.${at}`, words: readWords(table, one, `add.${at}`) })),
  ];
  await refuseTwice(transaction, table, rows, gone);
  const words = rows.map((row) => row.words);
  if (archive.length > 0)
    await setArchived(
      transaction,
      table,
      archive.map((one) => one.id),
      'now()',
    );
  await changeWords(
    transaction,
    table,
    change.map(({ id }, at) => ({ id, from: keyOf(present.get(id)?.words ?? []), words: words[at] ?? [] })),
  );
  const added = words.slice(change.length);
  const levels = levelsOf(table);
  if (added.length > 0)
    await transaction.raw(
      `INSERT INTO ${relation(table.id)} (${levels.map(({ column }) => column).join(', ')}) SELECT ${levels.map(({ type }, at) => `(row->>${at})::${type}`).join(', ')}
       FROM jsonb_array_elements(?::jsonb) WITH ORDINALITY AS t(row, n) ORDER BY n`,
      [JSON.stringify(added)],
    );
  return { added: added.length, changed: change.length, archived: archive.length };
}

const keyOf = (levels: readonly string[]): string => JSON.stringify(levels);

const levelsOf = (table: TableDefinition) =>
  table.fields.map((field) => ({
    column: quoted(field.id),
    type: typeOf(field).column(field.settings),
    text: typeOf(field).family === 'text',
  }));

/** The combinations of these records that are in use, locked until the save is over. */
async function wordsOf(
  transaction: Transaction,
  table: TableDefinition,
  ids: readonly number[],
): Promise<Map<number, { version: number; words: string[] }>> {
  if (ids.length === 0) return new Map();
  const words = levelsOf(table).map(({ column }) => `coalesce(${column}::text, '')`);
  const { rows } = await transaction.raw<{ rows: { id: number; version: number; words: string[] }[] }>(
    `SELECT id, version, ARRAY[${words.join(', ')}] AS words FROM ${relation(table.id)} WHERE id = ANY(?) AND archived_at IS NULL ORDER BY id FOR UPDATE`,
    [[...ids]] as unknown as string[],
  );
  return new Map(rows.map((row) => [row.id, row]));
}

/** The words of a combination as the list keeps them. Throws 422 for a level that is empty or no word. */
function readWords(table: TableDefinition, given: readonly string[], path: string): string[] {
  return table.fields.map((field, at) => {
    const read = typeOf(field).parse(given[at] ?? '', field.settings);
    if (!read.ok)
      throw unacceptable([{ path: `${path}.${at}`, rule: 'form', message: `${field.label}: ${read.message}` }]);
    if (read.value === null)
      throw unacceptable([
        {
          path: `${path}.${at}`,
          rule: 'required',
          message: say('{list} has no {label}. Fill every level in.', {
            list: given.filter((word) => word !== '').join(' › ') || 'A row',
            label: field.label,
          }),
        },
      ]);
    return String(read.value);
  });
}

/** Throws 422 for a combination that occurs twice among `rows`, or that the list has already, `gone` left out. */
async function refuseTwice(
  transaction: Transaction,
  table: TableDefinition,
  rows: readonly { readonly path: string; readonly words: readonly string[] }[],
  gone: readonly number[],
): Promise<void> {
  if (rows.length === 0) return;
  const seen = new Set<string>();
  let twice = rows.find(({ words }) => seen.size === seen.add(keyOf(words)).size);
  if (!twice) {
    const same = levelsOf(table).map(({ column, type, text }, at) =>
      text ? `md5(l.${column}) = md5(row->>${at})` : `l.${column} = (row->>${at})::${type}`,
    );
    const { rows: found } = await transaction.raw<{ rows: { n: number }[] }>(
      `SELECT n::integer AS n FROM jsonb_array_elements(?::jsonb) WITH ORDINALITY AS t(row, n)
       WHERE EXISTS (SELECT FROM ${relation(table.id)} l WHERE l.archived_at IS NULL AND ${same.join(' AND ')} AND NOT l.id = ANY(?)) ORDER BY n LIMIT 1`,
      [JSON.stringify(rows.map((row) => row.words)), [...gone]] as unknown as string[],
    );
    twice = found[0] ? rows[found[0].n - 1] : undefined;
  }
  refuseIf(
    twice && {
      path: twice.path,
      rule: 'twice',
      message: say('{list} occurs twice. Keep one of them.', { list: twice.words.join(' › ') }),
    },
  );
}

const setArchived = (transaction: Transaction, table: TableDefinition, ids: readonly number[], at: 'now()' | 'NULL') =>
  transaction.raw(`UPDATE ${relation(table.id)} SET archived_at = ${at} WHERE id = ANY(?)`, [
    [...ids],
  ] as unknown as string[]);

interface Change {
  readonly id: number;
  /** The combination that the record has now. */
  readonly from: string;
  readonly words: readonly string[];
}

/** Changes combinations in such an order that none is taken while another record still has it. */
async function changeWords(
  transaction: Transaction,
  table: TableDefinition,
  changes: readonly Change[],
): Promise<void> {
  const set = levelsOf(table)
    .map(({ column }) => `${column} = ?`)
    .join(', ');
  const write = ({ id, words }: Change) =>
    transaction.raw(`UPDATE ${relation(table.id)} SET ${set} WHERE id = ?`, [...words, id]);
  const held = new Map(changes.map((one) => [one.from, one]));
  const waiting = new Set(changes);
  const parked: Change[] = [];
  while (waiting.size > 0) {
    let moved = false;
    for (const one of waiting) {
      const holder = held.get(keyOf(one.words));
      if (holder !== undefined && holder !== one) continue;
      await write(one);
      held.delete(one.from);
      waiting.delete(one);
      moved = true;
    }
    const [first] = waiting;
    if (moved || !first) continue;
    // They exchange their combinations: one steps aside until the others have moved.
    await setArchived(transaction, table, [first.id], 'now()');
    held.delete(first.from);
    waiting.delete(first);
    parked.push(first);
  }
  for (const one of parked) {
    await write(one);
    await setArchived(transaction, table, [one.id], 'NULL');
  }
}
