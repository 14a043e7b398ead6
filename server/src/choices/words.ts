import { ownWordsHolding } from '@fiche/core/languages';
import { inNaturalOrder, quoted, relation, type Sql } from '@fiche/core/queries';
import type { TableDefinition } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';

/** From so many letters on, a search finds them anywhere in a word; fewer do so only where there are few words. */
const ANYWHERE_FROM = 3;
/** So many words are looked at one by one before the index of three letters is asked, and so many after it was no help. */
const STEPS = 300;
const MANY_STEPS = 4_000;
/** So many records are worth sorting out through the index of three letters. */
const FEW = 8_000;
/** The most digits that a number within a word is expected to have. */
const DIGITS = 24;

/** Sorts behind everything that begins with what stands before it: no text that is read has this character. */
const LAST = '\uffff';

/**
 * The distinct words of one level of an option list whose records satisfy `where`, at most `limit`; `more` tells whether
 * there are others. `search` is matched without regard to case, anywhere in a word; of fewer than three letters, where
 * there are many words, only at the beginning. The words that begin with it come first, each part in natural order. No million records are read for
 * it: each word is found by one step of an index from the word before, and what is rare by its letters.
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
  const source = { table, plain, word: inNaturalOrder(plain), from: fromSql(table, plain, where), where };
  const typed = search.trim().normalize('NFC');
  const escaped = typed.replace(/[\\%_]/g, '\\$&');
  if (typed === '')
    return cut(
      (await walk(database, { ...source, holds: '%', begins: '', limit: limit + 1 }, [EVERYTHING], limit + 1)).words,
      limit,
    );
  const first = await beginningWith(database, { ...source, holds: `${escaped}%`, begins: '', limit: limit + 1 }, typed);
  if (first.length > limit) return cut(first, limit);
  const ask = { ...source, holds: `%${escaped}%`, begins: `${escaped}%`, limit: limit + 1 - first.length };
  const walked = await walk(database, ask, [EVERYTHING], STEPS);
  if (walked.words.length >= ask.limit || walked.complete) return cut([...first, ...walked.words], limit);
  return cut([...first, ...([...typed].length < ANYWHERE_FROM ? [] : await matching(database, ask))], limit);
}

/**
 * The words that a reader finds by what is typed in their own language: those whose translation holds it and, where none
 * does, those that hold it themselves. Otherwise as `findWords`.
 */
export function findWordsAsRead(
  ...[database, table, column, where, search, limit]: Parameters<typeof findWords>
): ReturnType<typeof findWords> {
  const meant = ownWordsHolding(search);
  if (meant.length === 0) return findWords(database, table, column, where, search, limit);
  const among = {
    text: `${where.text} AND c.${quoted(column)} = ANY(?)`,
    values: [...where.values, meant as readonly string[]],
  };
  return findWords(database, table, column, among, '', limit);
}

const cut = (words: readonly string[], limit: number) => ({ words: words.slice(0, limit), more: words.length > limit });

const fromSql = (table: TableDefinition, plain: string, where: Sql): string =>
  `FROM ${relation(table.id)} c WHERE c.archived_at IS NULL AND ${plain} IS NOT NULL AND ${where.text}`;

/** A part of the natural order: from `low`, and before `high`. */
interface Range {
  readonly low: string;
  readonly high: string;
}
const EVERYTHING: Range = { low: '', high: LAST };

interface Ask {
  readonly table: TableDefinition;
  /** The column, as it is and in its order. */
  readonly plain: string;
  readonly word: string;
  readonly from: string;
  readonly where: Sql;
  /** Patterns of what a word holds, and of those beginnings that are left out. */
  readonly holds: string;
  readonly begins: string;
  readonly limit: number;
}

/**
 * Goes from word to word through ranges, which stand in order. Returns the words that match, and whether there are no
 * others: at most `steps` words of each range are looked at.
 */
async function walk(
  database: Database | Transaction,
  { word, from, where, holds, begins, limit }: Ask,
  ranges: readonly Range[],
  steps: number,
): Promise<{ words: string[]; complete: boolean }> {
  const { rows } = await database.raw<{ rows: { word: string; fits: boolean; last: boolean }[] }>(
    `SELECT w.word, w.fits, w.step >= ? AS last
     FROM unnest(?::text[], ?::text[]) AS r(low, high), LATERAL (
       WITH RECURSIVE words(word, step) AS (
         (SELECT ${word}, 1 ${from} AND ${word} >= r.low AND ${word} < r.high ORDER BY ${word} LIMIT 1)
         UNION ALL
         SELECT (SELECT ${word} ${from} AND ${word} > words.word AND ${word} < r.high ORDER BY ${word} LIMIT 1), step + 1
         FROM words WHERE words.word IS NOT NULL AND step < ?)
       SELECT word, step, word COLLATE "default" ILIKE ? AND word COLLATE "default" NOT ILIKE ? AS fits
       FROM words WHERE word IS NOT NULL) w
     WHERE w.fits OR w.step >= ? LIMIT ?`,
    [
      steps,
      ranges.map(({ low }) => low),
      ranges.map(({ high }) => high),
      ...where.values,
      ...where.values,
      steps,
      holds,
      begins,
      steps,
      limit,
    ] as string[],
  );
  // Where a range was not walked to its end, what stands in the ranges behind it does not follow.
  const cutAt = rows.findIndex((row) => row.last);
  const known = cutAt < 0 ? rows : rows.slice(0, cutAt + 1);
  return {
    words: known.filter((row) => row.fits).map((row) => row.word),
    complete: cutAt < 0 && rows.length < limit,
  };
}

/** Finds the words that match, wherever they stand: by their letters where few records hold these, else by the order. */
async function matching(database: Database | Transaction, ask: Ask): Promise<string[]> {
  const few = await amongFew(database, ask);
  if (few !== undefined) return few;
  const walked = await walk(database, ask, [EVERYTHING], MANY_STEPS);
  if (walked.words.length >= ask.limit || walked.complete) return walked.words;
  const { word, plain, from, where, holds, begins, limit } = ask;
  const { rows } = await database.raw<{ rows: { word: string }[] }>(
    `SELECT DISTINCT ${word} AS word ${from} AND ${plain} ILIKE ? AND ${plain} NOT ILIKE ? ORDER BY 1 LIMIT ?`,
    [...where.values, holds, begins, limit] as string[],
  );
  return rows.map((row) => row.word);
}

/** The words that match, through the index of three letters; undefined when too many records match for that. */
async function amongFew(
  database: Database | Transaction,
  { table, plain, where, holds, begins, limit }: Ask,
): Promise<string[] | undefined> {
  const { rows } = await database.transaction(async (transaction) => {
    // How rare three letters are is guessed badly: a scan of everything, which a wrong guess leads to, is ruled out.
    await transaction.raw('SET LOCAL enable_seqscan = off');
    return transaction.raw<{ rows: { held: number; words: string[] }[] }>(
      `WITH held AS MATERIALIZED (SELECT * FROM ${relation(table.id)} c WHERE c.archived_at IS NULL AND ${plain} ILIKE ? LIMIT ?)
       SELECT (SELECT count(*)::integer FROM held) AS held,
         ARRAY(SELECT ${plain} FROM held c WHERE ${plain} NOT ILIKE ? AND ${where.text} GROUP BY ${plain} ORDER BY ${inNaturalOrder(plain)} LIMIT ?) AS words`,
      [holds, FEW + 1, begins, ...where.values, limit] as string[],
    );
  });
  const [found] = rows;
  return found && found.held <= FEW ? found.words : undefined;
}

/** Finds words by how they begin, without a search through all of them where their order allows. */
async function beginningWith(database: Database | Transaction, ask: Ask, typed: string): Promise<string[]> {
  const { ranges, exact } = rangesOf(typed);
  const { words, complete } = await walk(database, ask, ranges, exact ? ask.limit : STEPS);
  return complete || words.length >= ask.limit ? words : matching(database, ask);
}

/**
 * The parts of the natural order that hold every word that begins with `typed`; `exact` when they hold no other. Letters
 * of three scripts sort by what stands first; a number sorts by its size, so that 1, 10 to 19, 100 to 199 begin with 1.
 */
function rangesOf(typed: string): { ranges: readonly Range[]; exact: boolean } {
  const letters = /^[\p{Script=Latin}\p{Script=Greek}\p{Script=Cyrillic} ]*/u.exec(typed)?.[0] ?? '';
  const base = letters.toLowerCase();
  const rest = typed.slice(letters.length);
  const wide = [{ low: base, high: `${base}${LAST}` }];
  if (base.length !== letters.length) return { ranges: [EVERYTHING], exact: false };
  if (rest === '') return { ranges: wide, exact: true };
  const number = /^[1-9]\d*/.exec(rest)?.[0];
  if (number === undefined) return { ranges: wide, exact: false };
  const next = String(BigInt(number) + 1n);
  // With something behind it, the number is all there.
  const ranges = Array.from({ length: number === rest ? DIGITS : 1 }, (_, zeros) => ({
    low: base + number + '0'.repeat(zeros),
    high: base + next + '0'.repeat(zeros),
  }));
  return { ranges, exact: false };
}
