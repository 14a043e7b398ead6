import { quoted, relation } from '@fiche/core/queries';
import type { TableDefinition, TableId, Tables } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';

interface NamedCells {
  readonly name: string;
  readonly cells: readonly string[];
}

interface MatchedLevel {
  readonly name: string;
  readonly table: TableId;
  readonly column: string;
}

/** From this share of a column’s words on, they are taken for those of a level. */
const SHARE = 0.8;

/**
 * Which columns of a file carry the levels of an option list: for each list a column for every level, by their words and,
 * where several fit, by their names. A list of which a level is missing is not proposed; a column belongs to one list.
 */
export async function matchLevels(
  app: Database,
  tables: Tables,
  cabinet: string,
  columns: readonly NamedCells[],
): Promise<MatchedLevel[]> {
  const lists = [...tables.values()].filter((one) => one.cabinet === cabinet && one.kind === 'list');
  // A list of more levels says more about its columns.
  lists.sort((a, b) => b.fields.length - a.fields.length);
  const found: MatchedLevel[] = [];
  for (const list of lists) {
    const free = columns.filter((column) => !found.some((one) => one.name === column.name));
    found.push(...(await matchList(app, list, free)));
  }
  return found;
}

async function matchList(
  app: Database,
  list: TableDefinition,
  columns: readonly NamedCells[],
): Promise<MatchedLevel[]> {
  const words = new Map(columns.map((column) => [column.name, wordsOf(column)]));
  const known = await knownWords(app, list, new Set([...words.values()].flatMap((some) => [...some])));
  const found: MatchedLevel[] = [];
  for (const level of list.fields) {
    const has = known.get(level.id) ?? new Set();
    let best: { name: string; score: number } | undefined;
    for (const [name, some] of words) {
      if (some.size === 0 || found.some((one) => one.name === name)) continue;
      const share = [...some].filter((word) => has.has(word)).length / some.size;
      const score = share + (name.trim().toLowerCase() === level.label.toLowerCase() ? 1 : 0);
      if (share >= SHARE && score > (best?.score ?? 0)) best = { name, score };
    }
    if (!best) return [];
    found.push({ name: best.name, table: list.id, column: level.id });
  }
  return found;
}

const wordsOf = ({ cells }: NamedCells): Set<string> =>
  new Set(cells.map((cell) => cell.normalize('NFC').trim().toLowerCase()).filter(Boolean));

/** Which of some words, in small letters, each level of a list has: one reading of the list, whatever the file’s width. */
async function knownWords(
  app: Database,
  list: TableDefinition,
  words: ReadonlySet<string>,
): Promise<Map<string, Set<string>>> {
  const sql = list.fields.map(
    ({ id }) =>
      `SELECT DISTINCT '${id}' AS level, lower(${quoted(id)}) AS word FROM ${relation(list.id)} WHERE archived_at IS NULL AND lower(${quoted(id)}) = ANY(?::text[])`,
  );
  const { rows } = await app.raw<{ rows: { level: string; word: string }[] }>(
    sql.join(' UNION ALL '),
    list.fields.map(() => [...words]) as unknown as string[],
  );
  const known = new Map<string, Set<string>>();
  for (const { level, word } of rows) known.set(level, (known.get(level) ?? new Set()).add(word));
  return known;
}
