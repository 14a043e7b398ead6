import { inNaturalOrder, quoted, relation, type Sql } from '@fiche/core/queries';
import type { TableDefinition } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';

/** From so many letters on, a search finds them anywhere in a word; fewer are looked for at its beginning. */
const ANYWHERE_FROM = 3;
/** So many words are looked at one by one, before the index of three letters is asked. */
const STEPS = 200;
/** The most digits that a number within a word is expected to have. */
const DIGITS = 24;

/** Sorts behind everything that begins with what stands before it: no text that is read has this character. */
const LAST = '\uffff';

/**
 * The distinct words of one level of an option list whose records satisfy `where`, in natural order, at most `limit`;
 * `more` tells whether there are others. `search` is matched without regard to case: at the beginning of a word, or
 * anywhere in it from three letters on. No million records are read for it: each word is found by one step of an index
 * from the word before, and what is rare by its letters.
 */
export async function findWords(
  database: Database | Transaction,
  table: TableDefinition,
  column: string,
  where: Sql,
  search: string,
  limit: number,
): Promise<{ words: string[]; more: boolean }> {
  const plain = `c.${quoted(column)}`;
  const source = { plain, word: inNaturalOrder(plain), from: fromSql(table, plain, where), where };
  const typed = search.trim().normalize('NFC');
  const letters = [...typed].length;
  const pattern = `${letters >= ANYWHERE_FROM ? '%' : ''}${typed.replace(/[\\%_]/g, '\\$&')}%`;
  const ask = { ...source, pattern, limit: limit + 1 };
  let found: string[];
  if (typed === '') found = (await walk(database, ask, [EVERYTHING], limit + 1)).words;
  else if (letters < ANYWHERE_FROM) found = await beginningWith(database, ask, typed);
  else {
    const walked = await walk(database, ask, [EVERYTHING], STEPS);
    found = walked.words.length > limit || walked.complete ? walked.words : await holding(database, ask);
  }
  return { words: found.slice(0, limit), more: found.length > limit };
}

const fromSql = (table: TableDefinition, plain: string, where: Sql): string =>
  `FROM ${relation(table.id)} c WHERE c.archived_at IS NULL AND ${plain} IS NOT NULL AND ${where.text}`;

/** A part of the natural order: from `low`, and before `high`. */
interface Range {
  readonly low: string;
  readonly high: string;
}
const EVERYTHING: Range = { low: '', high: LAST };

interface Ask {
  /** The column, as it is and in its order. */
  readonly plain: string;
  readonly word: string;
  readonly from: string;
  readonly where: Sql;
  readonly pattern: string;
  readonly limit: number;
}

/**
 * Goes from word to word through ranges, which stand in order. Returns the words that match, and whether there are no
 * others: at most `steps` words of each range are looked at.
 */
async function walk(
  database: Database | Transaction,
  { word, from, where, pattern, limit }: Ask,
  ranges: readonly Range[],
  steps: number,
): Promise<{ words: string[]; complete: boolean }> {
  const { rows } = await database.raw<{ rows: { word: string; fits: boolean; last: boolean }[] }>(
    `SELECT w.word, w.word COLLATE "default" ILIKE ? AS fits, w.step >= ? AS last
     FROM unnest(?::text[], ?::text[]) AS r(low, high), LATERAL (
       WITH RECURSIVE words(word, step) AS (
         (SELECT ${word}, 1 ${from} AND ${word} >= r.low AND ${word} < r.high ORDER BY ${word} LIMIT 1)
         UNION ALL
         SELECT (SELECT ${word} ${from} AND ${word} > words.word AND ${word} < r.high ORDER BY ${word} LIMIT 1), step + 1
         FROM words WHERE words.word IS NOT NULL AND step < ?)
       SELECT word, step FROM words WHERE word IS NOT NULL) w
     WHERE w.word COLLATE "default" ILIKE ? OR w.step >= ? LIMIT ?`,
    [
      pattern,
      steps,
      ranges.map(({ low }) => low),
      ranges.map(({ high }) => high),
      ...where.values,
      ...where.values,
      steps,
      pattern,
      steps,
      limit,
    ] as string[],
  );
  return {
    words: rows.filter((row) => row.fits).map((row) => row.word),
    complete: rows.length < limit && rows.every((row) => !row.last),
  };
}

/** Finds the words that hold the pattern, wherever they stand: those that are rare through the index of three letters. */
async function holding(
  database: Database | Transaction,
  { plain, word, from, where, pattern, limit }: Ask,
): Promise<string[]> {
  const { rows } = await database.raw<{ rows: { word: string }[] }>(
    `SELECT DISTINCT ${word} AS word ${from} AND ${plain} ILIKE ? ORDER BY 1 LIMIT ?`,
    [...where.values, pattern, limit] as string[],
  );
  return rows.map((row) => row.word);
}

/** Finds words by how they begin, without a search through all of them where their order allows. */
async function beginningWith(database: Database | Transaction, ask: Ask, typed: string): Promise<string[]> {
  const { ranges, exact } = rangesOf(typed);
  const { words, complete } = await walk(database, ask, ranges, exact ? ask.limit : STEPS);
  return complete || words.length >= ask.limit ? words : holding(database, ask);
}

/**
 * The parts of the natural order that hold every word that begins with `typed`; `exact` when they hold no other. Letters
 * of three scripts sort by what stands first; a number sorts by its size, so that 1, 10 to 19, 100 to 199 begin with 1.
 */
export function rangesOf(typed: string): { ranges: readonly Range[]; exact: boolean } {
  const letters = /^[\p{Script=Latin}\p{Script=Greek}\p{Script=Cyrillic} ]*/u.exec(typed)?.[0] ?? '';
  const base = letters.toLowerCase();
  const rest = typed.slice(letters.length);
  const wide = [{ low: base, high: `${base}${LAST}` }];
  if (base.length !== letters.length) return { ranges: [EVERYTHING], exact: false };
  if (rest === '') return { ranges: wide, exact: true };
  const number = /^[1-9]\d*/.exec(rest)?.[0];
  if (number === undefined) return { ranges: wide, exact: false };
  const next = String(BigInt(number) + 1n);
  const ranges = Array.from({ length: DIGITS }, (_, zeros) => ({
    low: base + number + '0'.repeat(zeros),
    high: base + next + '0'.repeat(zeros),
  }));
  return { ranges, exact: false };
}
