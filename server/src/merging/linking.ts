import { linksSeveral } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { quoted, recordsOf, relation } from '@fiche/core/queries';
import { rightTo } from '@fiche/core/rights';
import { type FieldDefinition, findField, type RecordId, type TableDefinition } from '@fiche/core/tables';
import { callersLimit } from '../access/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { Refusal } from '../http/index.ts';
import { linksTo } from '../records/index.ts';

/** Records whose link points at one of those that are merged away, by the field of their table. */
export interface Linking {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  readonly ids: readonly RecordId[];
}

/** Records that are pointed elsewhere at once; a merge is put back as one, which has the same bound. */
const MOST_LINKING = 4_000;

/** SQL: a link of a record `r`, to one record or to several, points at one of the records bound to `?`. */
const pointsAt = (field: FieldDefinition): string =>
  linksSeveral(field)
    ? `r.id IN (SELECT p.record FROM ${pairsOf(field)} p WHERE p.target = ANY(?::bigint[]))`
    : `r.${quoted(field.id)} = ANY(?::bigint[])`;

/** The table of a link to several records: a row for each of them, found by an index from either end. */
const pairsOf = (field: FieldDefinition): string => relation(String(field.settings.pairs));

/** How many records that the caller sees link to each of some records; nothing for one to which none link. */
export async function countLinking(
  app: Database,
  { tables }: Definitions,
  table: TableDefinition,
  records: readonly RecordId[],
): Promise<ReadonlyMap<RecordId, number>> {
  const counts = new Map<RecordId, number>();
  for (const { table: from, field } of linksTo(tables, table.id)) {
    if (!findField(from, field.id)) continue;
    const [target, pairs] = linksSeveral(field)
      ? ['p.target', `JOIN ${pairsOf(field)} p ON p.record = r.id`]
      : [`r.${quoted(field.id)}`, ''];
    const { rows } = await app.raw<{ rows: { id: number; n: number }[] }>(
      `SELECT ${target} AS id, count(*) AS n FROM ${recordsOf(tables, from.id)} r ${pairs}
       WHERE ${target} = ANY(?::bigint[]) GROUP BY 1`,
      [`{${records.join(',')}}`],
    );
    for (const { id, n } of rows) counts.set(Number(id), (counts.get(Number(id)) ?? 0) + Number(n));
  }
  return counts;
}

/**
 * The records of all tables, archived ones too, that link to some records, locked. Throws 403 where the caller may not change all
 * of them, 422 where they are too many.
 */
export async function linkingTo(
  transaction: Transaction,
  definitions: Definitions,
  table: TableDefinition,
  merged: readonly RecordId[],
): Promise<Linking[]> {
  const whole = (definitions.seen?.whole ?? definitions).tables;
  const found: Linking[] = [];
  let sum = 0;
  for (const { table: from, field } of linksTo(whole, table.id)) {
    // A field that is out of use keeps what it has: nobody reads it.
    if (!findField(from, field.id)) continue;
    const { rows } = await transaction.raw<{ rows: { id: number }[] }>(
      `SELECT r.id FROM ${relation(from.id)} r WHERE ${pointsAt(field)} ORDER BY r.id LIMIT ${MOST_LINKING + 1} FOR UPDATE`,
      [`{${merged.join(',')}}`],
    );
    if (rows.length === 0) continue;
    const ids = rows.map((row) => Number(row.id));
    sum += ids.length;
    if (sum > MOST_LINKING)
      throw new Refusal(
        422,
        say(
          'More than {mostLinking} records link to those that would be merged away. Let the one stay that most of them link to.',
          { mostLinking: MOST_LINKING },
        ),
      );
    await requireChangeable(transaction, definitions, from, field, ids);
    found.push({ table: from, field, ids });
  }
  return found;
}

/** Checks that the caller may change a link of some records. Throws 403, naming a table only to whoever sees it. */
async function requireChangeable(
  transaction: Transaction,
  definitions: Definitions,
  table: TableDefinition,
  field: FieldDefinition,
  ids: readonly RecordId[],
): Promise<void> {
  const { seen } = definitions;
  if (!seen) return;
  const known = definitions.tables.get(table.id);
  const refusal = new Refusal(
    403,
    known
      ? say('{label} link here, and your role may not change all of these. Ask somebody whose role may.', {
          label: table.label,
        })
      : say('Records that your role does not see link here. Ask somebody whose role may change them.'),
  );
  if (!known || !findField(known, field.id) || rightTo(seen.role, 'change', table, field.id) === 'no') throw refusal;
  const limit = callersLimit(definitions, table, 'r', ({ role }) => rightTo(role, 'change', table));
  if (limit === null) return;
  const { rows } = await transaction.raw<{ rows: { n: number }[] }>(
    `SELECT count(*) AS n FROM ${relation(table.id)} r WHERE r.id = ANY(?::bigint[]) AND ${limit}`,
    [`{${ids.join(',')}}`],
  );
  if (Number(rows[0]?.n) < ids.length) throw refusal;
}

/** Points the links of some records at the one that stays; a list of links names it once, where the first of the others stood. */
export async function repointLinks(
  transaction: Transaction,
  { table, field, ids }: Linking,
  merged: readonly RecordId[],
  stays: RecordId,
): Promise<void> {
  const column = quoted(field.id);
  const list = (of: readonly RecordId[]): string => `{${of.join(',')}}`;
  if (!linksSeveral(field)) {
    await transaction.raw(`UPDATE ${relation(table.id)} r SET ${column} = ? WHERE r.id = ANY(?::bigint[])`, [
      stays,
      list(ids),
    ]);
    return;
  }
  await transaction.raw(
    `UPDATE ${relation(table.id)} r SET ${column} = (
       SELECT array_agg(one ORDER BY first) FROM (
         SELECT CASE WHEN e = ANY(?::bigint[]) THEN ?::bigint ELSE e END AS one, min(place) AS first
         FROM unnest(r.${column}) WITH ORDINALITY AS u(e, place) GROUP BY 1) s)
     WHERE r.id = ANY(?::bigint[])`,
    [list(merged), stays, list(ids)],
  );
}
