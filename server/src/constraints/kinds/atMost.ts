import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import type { ConstraintOf, TableDefinition } from '@fiche/core/tables';
import type { ConstraintSql } from './kind.ts';
import { agree, daysSql, filled } from './range.ts';

type AtMost = ConstraintOf<'atMost'>;

/** With which code the trigger refuses a record too many. */
const TOO_MANY = 'FI002';

/** The written row, as the trigger hands it to the SQL that it is args. */
const ROW = '($1)';

const columnsOf = (one: AtMost): string[] => [...one.same, one.from, ...(one.to === null ? [] : [one.to])];

/**
 * True when some day of row `of` has `most` or more other records, or, counting itself where it is written already,
 * more than `most`. A day can only be the fullest where some range begins, so those days are counted.
 */
function isFull(table: TableDefinition, one: AtMost, of: string, written: boolean): string {
  const equal = one.same.length === 0 ? '' : `${agree(one.same, 'o', of)} AND `;
  const [other, own] = [daysSql(table, one, 'o'), daysSql(table, one, of)];
  const others = `FROM ${relation(table.id)} o WHERE ${equal}o.archived_at IS NULL AND o.${quoted(one.from)} IS NOT NULL`;
  return `EXISTS (SELECT 1 FROM (SELECT lower(${own}) AS day UNION SELECT lower(${other}) ${others} AND ${other} && ${own} AND lower(${other}) > lower(${own})) d
    WHERE (SELECT count(*) ${others} AND ${other} @> d.day) ${written ? '>' : '>='} ${one.most})`;
}

/** Rows of a query, each with the columns of the rule, that begin on a day which has too many by then; in `key` which row. */
function overfull(table: TableDefinition, one: AtMost, rows: string, key: string): string {
  const same = one.same.map((id) => `${quoted(id)}, `).join('');
  const partition = one.same.length === 0 ? '' : `PARTITION BY ${one.same.map((id) => quoted(id)).join(', ')} `;
  const days = daysSql(table, one);
  // Who leaves on a day makes room before who comes on it.
  return `SELECT ${same}${key}, day FROM (SELECT *, sum(step) OVER (${partition}ORDER BY day, step, ${key} NULLS FIRST ROWS UNBOUNDED PRECEDING) AS n FROM (
      SELECT ${same}${key}, lower(${days}) AS day, 1 AS step FROM (${rows}) a WHERE ${filled([one.from, ...one.same])}
      UNION ALL SELECT ${same}${key}, upper(${days}), -1 FROM (${rows}) a WHERE ${filled([one.from, ...one.same])} AND NOT upper_inf(${days})) steps) counted
    WHERE step = 1 AND n > ${one.most}`;
}

/** The trigger `fiche.hold_at_most`, which counts one writer at a time for what must agree; an index makes it quick. */
export const atMost: ConstraintSql<AtMost> = {
  codes: [TOO_MANY],
  index: (table, one, name) => indexOf(table, one, name, 'CONCURRENTLY '),
  hold(table, one, name) {
    const key = one.same.map((id) => `${ROW}.${quoted(id)}`).join(', ');
    const together = `CASE WHEN ${ROW}.archived_at IS NULL AND ${filled([one.from, ...one.same], ROW)} THEN jsonb_build_array(${key})::text END`;
    const args = [name, together, isFull(table, one, ROW, true)].map((text) => `'${text.replaceAll("'", "''")}'`);
    return [
      indexOf(table, one, name),
      `CREATE OR REPLACE TRIGGER ${quoted(name)} AFTER INSERT OR UPDATE OF ${[...columnsOf(one), 'archived_at'].map((id) => quoted(id)).join(', ')} ON ${relation(table.id)} FOR EACH ROW EXECUTE FUNCTION fiche.hold_at_most(${args.join(', ')})`,
    ];
  },
  release: (table, name) => [
    `DROP TRIGGER IF EXISTS ${quoted(name)} ON ${relation(table.id)}`,
    `DROP INDEX IF EXISTS data.${quoted(name)}`,
  ],
  breakers: (table, one) => ({
    where: `r.id IN (SELECT id FROM (${overfull(table, one, `SELECT * FROM ${relation(table.id)} WHERE archived_at IS NULL`, 'id')}) t)`,
    shown: columnsOf(one),
    why: say('one too many on a day'),
  }),
  conflict: (table, one) => `(${filled([one.from, ...one.same], 'v')} AND ${isFull(table, one, 'v', false)})`,
  amongRows(table, one, rows) {
    const all = rows.all(columnsOf(one));
    const same = one.same.map((id) => `a.${quoted(id)}, `).join('');
    const equal = one.same.length === 0 ? '' : ` AND ${agree(one.same, 'a', 'f')}`;
    // On every day that is too full, who is there stays, and rows of the file have the places left in their order.
    return [
      `s."row#" IN (SELECT number FROM (SELECT a.number, row_number() OVER (PARTITION BY ${same}f.day ORDER BY a.number NULLS FIRST) AS n
         FROM (SELECT DISTINCT ${one.same.map((id) => `${quoted(id)}, `).join('')}day FROM (${overfull(table, one, all, 'number')}) o) f
         JOIN (${all}) a ON ${daysSql(table, one, 'a')} @> f.day${equal}) t WHERE number IS NOT NULL AND n > ${one.most})`,
    ];
  },
};

function indexOf(table: TableDefinition, one: AtMost, name: string, how = ''): string {
  const columns = [...one.same.map((id) => quoted(id)), daysSql(table, one)].join(', ');
  return `CREATE INDEX ${how}IF NOT EXISTS ${quoted(name)} ON ${relation(table.id)} USING gist (${columns}) WHERE archived_at IS NULL AND ${quoted(one.from)} IS NOT NULL`;
}
