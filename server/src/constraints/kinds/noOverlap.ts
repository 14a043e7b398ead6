import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import type { ConstraintOf } from '@fiche/core/tables';
import type { ConstraintSql } from './kind.ts';
import { agree, filled, rangeSql } from './range.ts';

const partitionBy = (same: readonly string[]): string =>
  same.length === 0 ? '' : `PARTITION BY ${same.map((id) => quoted(id)).join(', ')} `;

/** An exclusion constraint over what must agree and the range; archived records are left out. */
export const noOverlap: ConstraintSql<ConstraintOf<'noOverlap'>> = {
  codes: ['23P01'],
  index: () => undefined,
  hold: (table, one, name) => [
    `ALTER TABLE ${relation(table.id)} ADD CONSTRAINT ${quoted(name)} EXCLUDE USING gist (${one.same.map((id) => `${quoted(id)} WITH =, `).join('')}${rangeSql(table, one)} WITH &&) WHERE (archived_at IS NULL AND ${quoted(one.from)} IS NOT NULL)`,
  ],
  release: (table, name) => [`ALTER TABLE ${relation(table.id)} DROP CONSTRAINT IF EXISTS ${quoted(name)}`],
  breakers(table, one) {
    const [from, to] = [quoted(one.from), quoted(one.to)];
    // In order of their beginnings, a range overlaps an earlier one when it begins before the latest end so far.
    return {
      where: `r.id IN (SELECT id FROM (SELECT id, ${from} AS begins, bool_or(${to} IS NULL) OVER earlier AS open, max(greatest(${from}, ${to})) OVER earlier AS latest,
        least(${from}, ${to}) AS first FROM ${relation(table.id)} WHERE archived_at IS NULL AND ${filled([one.from, ...one.same])}
        WINDOW earlier AS (${partitionBy(one.same)}ORDER BY least(${from}, ${to}), id ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING)) o WHERE o.open OR o.first < o.latest)`,
      shown: [...one.same, one.from, one.to],
      why: say('overlaps an earlier one'),
    };
  },
  conflict(table, one) {
    const equal = one.same.length === 0 ? '' : `${agree(one.same, 'o', 'v')} AND `;
    const overlaps = `${rangeSql(table, one, 'o')} && ${rangeSql(table, one, 'v')}`;
    return `(v.${quoted(one.from)} IS NOT NULL AND EXISTS (SELECT 1 FROM ${relation(table.id)} o WHERE ${equal}${overlaps} AND o.archived_at IS NULL AND o.${quoted(one.from)} IS NOT NULL))`;
  },
  amongRows(_table, one, rows) {
    const [from, to] = [quoted(one.from), quoted(one.to)];
    const partition = partitionBy(one.same);
    // Seen from both ends: a row of the file overlaps what begins before it, or what begins after it.
    const before = `least(${from}, ${to}) < max(coalesce(greatest(${from}, ${to}), 'infinity')) OVER (${partition}ORDER BY least(${from}, ${to}), number NULLS FIRST ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING)`;
    const after = `coalesce(greatest(${from}, ${to}), 'infinity') > min(least(${from}, ${to})) FILTER (WHERE number IS NULL) OVER (${partition}ORDER BY least(${from}, ${to}), number NULLS FIRST ROWS BETWEEN 1 FOLLOWING AND UNBOUNDED FOLLOWING)`;
    return [
      `s."row#" IN (SELECT number FROM (SELECT number, ${before} AS a, ${after} AS b
         FROM (${rows.all([...one.same, one.from, one.to])}) o WHERE ${from} IS NOT NULL) t WHERE number IS NOT NULL AND (a OR b))`,
    ];
  },
};
