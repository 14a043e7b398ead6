import type { RecordView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';

/** A row of the grid of combinations. */
export interface Row {
  readonly key: string;
  /** The record behind it, as it was read; none for a new row. */
  readonly record?: { readonly id: number; readonly version: number; readonly levels: readonly string[] };
  readonly levels: readonly string[];
}

/** What was done to the combinations and is not saved yet. */
export interface Changes {
  readonly added: readonly Row[];
  readonly changed: ReadonlyMap<number, Row>;
  readonly archived: ReadonlyMap<number, number>;
  /** Counts the rows that were made, so that each has a key of its own. */
  readonly made: number;
}

export const NO_CHANGES: Changes = { added: [], changed: new Map(), archived: new Map(), made: 0 };

/** The row of a record as it is shown: as it was read, or as it was changed since. */
export function rowOf(table: TableDefinition, record: RecordView, { changed }: Changes): Row {
  const levels = table.fields.map((level) => String(record.values[level.id] ?? ''));
  const row = { key: String(record.id), record: { id: record.id, version: record.version, levels }, levels };
  return changed.get(record.id) ?? row;
}

const same = (one: readonly string[], other: readonly string[]): boolean => one.every((word, at) => word === other[at]);

/** A line of words laid over those of a row, from a level on. */
const laid = (levels: readonly string[], from: number, words: readonly string[]): string[] =>
  levels.map((word, at) => words[at - from]?.trim() ?? word);

/**
 * Puts lines into rows, from the row at `at` and a level on. `rows` are those that are shown below the new ones; what
 * goes beyond their end becomes new rows.
 */
export function put(
  changes: Changes,
  rows: readonly Row[],
  at: number,
  level: number,
  lines: readonly (readonly string[])[],
  width: number,
): Changes {
  const added = [...changes.added];
  const changed = new Map(changes.changed);
  const blanks = Array.from({ length: width }, () => '');
  let made = changes.made;
  // The blank row stands below the new ones, and above those that are there.
  const inRecords = at - changes.added.length - 1;
  lines.forEach((words, n) => {
    const row = inRecords >= 0 ? rows[inRecords + n] : undefined;
    if (row?.record) {
      const levels = laid(row.levels, level, words);
      if (same(levels, row.record.levels)) changed.delete(row.record.id);
      else changed.set(row.record.id, { ...row, levels });
      return;
    }
    const place = inRecords >= 0 ? added.length : at + n;
    const before = added[place] ?? { key: `new-${made++}`, levels: blanks };
    added[place] = { ...before, levels: laid(before.levels, level, words) };
  });
  return { ...changes, added: added.filter((row) => row.levels.some((word) => word !== '')), changed, made };
}

/** Takes a row out: a new one is forgotten, a record is archived with the next save. */
export function takeOut(changes: Changes, row: Row): Changes {
  if (!row.record) return { ...changes, added: changes.added.filter((one) => one !== row) };
  const changed = new Map(changes.changed);
  changed.delete(row.record.id);
  return { ...changes, changed, archived: new Map(changes.archived).set(row.record.id, row.record.version) };
}

/** What keeps combinations from being saved, by row: a level that is empty, a combination that occurs twice. */
export function troublesOf(
  changes: Changes,
  rows: readonly Row[],
  labels: readonly string[],
): ReadonlyMap<string, string> {
  const troubles = new Map<string, string>();
  const seen = new Set<string>();
  for (const row of rows) if (row.record && !changes.changed.has(row.record.id)) seen.add(keyOf(row));
  for (const row of [...changes.added, ...changes.changed.values()]) {
    const empty = row.levels.findIndex((word) => word.trim() === '');
    if (empty >= 0) troubles.set(row.key, say('{empty} is empty.', { empty: labels[empty] ?? '' }));
    else if (seen.has(keyOf(row))) troubles.set(row.key, say('This combination occurs twice.'));
    seen.add(keyOf(row));
  }
  return troubles;
}

const keyOf = (row: Row): string => row.levels.map((word) => word.trim().normalize('NFC')).join('\u0000');

/** So many of each kind are sent at once. */
const SENT_AT_ONCE = 5_000;

/** The changes in as many parts as are sent one after the other, each with the rows that it saves. */
export function partsOf(changes: Changes) {
  const changed = [...changes.changed.values()];
  const archived = [...changes.archived].map(([id, version]) => ({ id, version }));
  const most = Math.max(changes.added.length, changed.length, archived.length);
  return Array.from({ length: Math.ceil(most / SENT_AT_ONCE) }, (_one, n) => {
    const part = <T>(of: readonly T[]): readonly T[] => of.slice(n * SENT_AT_ONCE, (n + 1) * SENT_AT_ONCE);
    const rows = { add: part(changes.added), change: part(changed) };
    return {
      rows,
      body: {
        add: rows.add.map((row) => row.levels),
        change: rows.change.flatMap(({ record, levels }) =>
          record ? [{ id: record.id, version: record.version, levels }] : [],
        ),
        archive: part(archived),
      },
    };
  });
}
