import type { DuplicatesFound } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { type DuplicatesBy, duplicatesProblems, groupsOf } from '@fiche/core/merging';
import { formatCount } from '@fiche/core/office';
import { quoted, recordsOf } from '@fiche/core/queries';
import { findField, type TableDefinition, type Tables } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';
import { filterSql, titlesOf } from '../records/index.ts';

/** Groups that are listed at once, and records of a group. */
const MOST_GROUPS = 200;
/** Pairs that are looked through: more mean that the fields say little. */
const MOST_PAIRS = 50_000;
/** Spellings are compared among so many records; the other ways look through all. */
const MOST_COMPARED = 50_000;
/** How alike two spellings are at least, as shares of their groups of three letters (pg_trgm). */
const ALIKE = 0.6;
/** As alike as this they are the same words in another order, however many letters differ place by place. */
const SAME_WORDS = 0.9;
/** A letter more may differ for so many letters. */
const LETTERS_A_SLIP = 10;
const LONGEST_SECONDS = 30;
/** PostgreSQL’s code for a statement that took too long. */
const TOOK_TOO_LONG = '57014';

/** A value as it is compared: as it is, or without case, accents, and marks. */
const keySql = (column: string, how: DuplicatesBy[number]['how']): string =>
  how === 'exact'
    ? `r.${quoted(column)}::text`
    : `nullif(btrim(regexp_replace(lower(public.unaccent(r.${quoted(column)}::text)), '[^[:alnum:]]+', '${how === 'near' ? ' ' : ''}', 'g')), '')`;

/**
 * Groups of records in use that are alike in all of some fields, as their reader sees them. Throws 422 for fields that cannot be
 * compared so, and where there is too much to compare.
 */
export async function duplicatesOf(
  owner: Database,
  tables: Tables,
  table: TableDefinition,
  { by, search }: { readonly by: DuplicatesBy; readonly search: string },
): Promise<DuplicatesFound> {
  const problems = duplicatesProblems(by, table);
  if (problems.length > 0) throw unacceptable(problems);
  const pairs = await owner
    .transaction(async (transaction) => {
      await transaction.raw(`SET LOCAL statement_timeout = '${LONGEST_SECONDS}s'`);
      return pairsOf(transaction, tables, table, by, search);
    })
    .catch((error: unknown) => {
      if ((error as { code?: string }).code !== TOOK_TOO_LONG) throw error;
      throw new Refusal(
        422,
        say('This takes too long. Compare by more fields, or exactly, or find fewer records first.'),
      );
    });
  const groups = groupsOf(pairs);
  const shown = groups.slice(0, MOST_GROUPS);
  const wanted = shown.flat().map((id) => ({ table: table.id, id }));
  const titles = await titlesOf(owner, tables, wanted);
  return {
    groups: shown.map((ids) => ({
      records: ids.map((id) => ({ id, title: titles.get(`${table.id}:${id}`) ?? `#${id}` })),
    })),
    total: groups.length,
    more: pairs.length === MOST_PAIRS,
  };
}

type Pair = readonly [number, number];

async function pairsOf(
  transaction: Transaction,
  tables: Tables,
  table: TableDefinition,
  by: DuplicatesBy,
  search: string,
): Promise<Pair[]> {
  const keys = by.map(({ field, how }, at) => `${keySql(findField(table, field)?.id ?? field, how)} AS k${at}`);
  const { where, values } = filterSql(tables, table, { search, archived: 'no' });
  const read = `SELECT r.id, ${keys.join(', ')} FROM ${recordsOf(tables, table.id)} r WHERE ${where.join(' AND ')}`;
  const filled = by.map((_one, at) => `k.k${at} IS NOT NULL`).join(' AND ');
  const near = by.flatMap(({ how }, at) => (how === 'near' ? [at] : []));
  if (near.length === 0) {
    // Each record after the first of its group makes a pair with the first: enough for the group.
    const same = by.map((_one, at) => `k.k${at}`).join(', ');
    const { rows } = await transaction.raw<{ rows: { first: number; id: number }[] }>(
      `SELECT first, id FROM (SELECT k.id, min(k.id) OVER (PARTITION BY ${same}) AS first FROM (${read}) k WHERE ${filled}) g
       WHERE id <> first ORDER BY first, id LIMIT ${MOST_PAIRS}`,
      values,
    );
    return rows.map(({ first, id }) => [Number(first), Number(id)]);
  }
  return nearPairs(transaction, by, near, `SELECT * FROM (${read}) k WHERE ${filled}`, values);
}

/** Pairs whose spellings are alike, found by an index over groups of three letters, in a table that is gone with the transaction. */
async function nearPairs(
  transaction: Transaction,
  by: DuplicatesBy,
  near: readonly number[],
  read: string,
  values: readonly (string | number)[],
): Promise<Pair[]> {
  await transaction.raw(`CREATE TEMP TABLE compared ON COMMIT DROP AS ${read} LIMIT ${MOST_COMPARED + 1}`, [...values]);
  const { rows: counted } = await transaction.raw<{ rows: { n: number }[] }>('SELECT count(*) AS n FROM compared');
  if (Number(counted[0]?.n) > MOST_COMPARED)
    throw new Refusal(
      422,
      say(
        'Spellings are compared among at most {mostCompared} records. Find fewer of them first, or compare without near spellings.',
        { mostCompared: formatCount(MOST_COMPARED) },
      ),
    );
  const others = by.flatMap((_one, at) => (near.includes(at) ? [] : [`a.k${at} = b.k${at}`]));
  for (const at of near) await transaction.raw(`CREATE INDEX ON compared USING gin (k${at} public.gin_trgm_ops)`);
  await transaction.raw(`ANALYZE compared`);
  await transaction.raw(`SET LOCAL pg_trgm.similarity_threshold = ${ALIKE}`);
  const alike = near.map(
    (at) =>
      `a.k${at} OPERATOR(public.%) b.k${at} AND (public.similarity(a.k${at}, b.k${at}) >= ${SAME_WORDS}
          OR public.levenshtein(left(a.k${at}, 255), left(b.k${at}, 255)) <= 1 + length(a.k${at}) / ${LETTERS_A_SLIP})`,
  );
  const { rows } = await transaction.raw<{ rows: { a: number; b: number }[] }>(
    `SELECT a.id AS a, b.id AS b FROM compared a JOIN compared b ON a.id < b.id AND ${[...others, ...alike].join(' AND ')}
       ORDER BY 1, 2 LIMIT ${MOST_PAIRS}`,
  );
  return rows.map(({ a, b }) => [Number(a), Number(b)]);
}
