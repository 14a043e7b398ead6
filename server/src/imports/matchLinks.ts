import { quoted, recordsOf } from '@fiche/core/queries';
import type { FieldId, TableDefinition, TableId, Tables } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';

interface MatchedLink {
  readonly name: string;
  readonly table: TableId;
  readonly field: FieldId;
  /** Which share of the column’s words are values of that field, from 0 to 1. */
  readonly share: number;
}

/** From this share of a column’s words on, it is proposed as a link. */
const SHARE = 0.6;
/** A table called like the column is meant before another that has the same words. */
const SAME_NAME = 0.2;
/** So many records a word on average still tell which one is meant; a field that more of them share names none. */
const RECORDS_A_WORD = 1.2;

/** For each column of a file: the table whose records its cells name, and by which field, where there is one. */
export async function matchLinks(
  app: Database,
  tables: Tables,
  cabinet: string,
  columns: readonly { readonly name: string; readonly cells: readonly string[] }[],
): Promise<MatchedLink[]> {
  const others = [...tables.values()].filter((one) => one.cabinet === cabinet && one.kind === 'records');
  const found: MatchedLink[] = [];
  for (const { name, cells } of columns) {
    const texts = [...new Set(cells.map((cell) => cell.normalize('NFC').trim()).filter((cell) => cell !== ''))];
    const best = texts.length === 0 ? undefined : await bestMatch(app, tables, others, name, texts);
    if (best) found.push(best);
  }
  return found;
}

async function bestMatch(
  app: Database,
  tables: Tables,
  others: readonly TableDefinition[],
  name: string,
  texts: readonly string[],
): Promise<MatchedLink | undefined> {
  let best: { link: MatchedLink; score: number } | undefined;
  for (const table of others)
    for (const field of table.fields) {
      if (!['text', 'sequence', 'email'].includes(field.type)) continue;
      const { rows } = await app.raw<{ rows: { n: number; records: number }[] }>(
        `SELECT count(DISTINCT lower(${quoted(field.id)})) AS n, count(*) AS records FROM ${recordsOf(tables, table.id)} r WHERE archived_at IS NULL AND lower(${quoted(field.id)}) IN (SELECT lower(t) FROM unnest(?::text[]) t)`,
        [texts] as unknown as string[],
      );
      const { n, records } = rows[0] ?? { n: 0, records: 0 };
      if (records > n * RECORDS_A_WORD) continue;
      const share = n / texts.length;
      const called = table.label.toLowerCase().startsWith(name.trim().toLowerCase().slice(0, 5));
      const score = share + (called ? SAME_NAME : 0);
      if (share >= SHARE && score > (best?.score ?? 0))
        best = { link: { name, table: table.id, field: field.id, share: Math.min(1, share) }, score };
    }
  return best?.link;
}
