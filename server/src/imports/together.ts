import type { ImportPlan } from '@fiche/core/imports';
import { quoted, relation } from '@fiche/core/queries';
import { findField, type TableDefinition, typeOf } from '@fiche/core/tables';
import { COMBINATION_TWICE } from '../constraints/index.ts';
import type { Database } from '../database/index.ts';
import { stagingOf } from './staging.ts';
import type { Target } from './targets.ts';

/** Whether a row can be refused for another one, in the file or there already: then its cells are kept until it is settled. */
export const comparesRows = (table: TableDefinition, plan: ImportPlan): boolean =>
  plan.key.length > 0 ||
  table.kind === 'list' ||
  table.constraints.length > 0 ||
  table.fields.some((field) => field.unique);

/**
 * Checks what only all rows together show, in the database: what would be there twice or overlap, in the file or with
 * what is there. Rows wait whole, so that a change of one field is held to rules over several. Returns how many rows
 * turned out bad.
 */
export async function checkTogether(
  owner: Database,
  id: number,
  table: TableDefinition,
  targets: readonly Target[],
  plan: ImportPlan,
): Promise<number> {
  const staging = stagingOf(id);
  const there = plan.into.kind === 'table';
  const place = relation(table.id);
  const nameOf = (field: string): string => targets.find((one) => one.field.id === field)?.column.name ?? field;
  let bad = 0;
  /** Takes rows out of staging that hold `where`, with their reason. */
  const refuse = async (where: string, field: string, message: string): Promise<void> => {
    const { rows } = await owner.raw<{ rows: { n: number }[] }>(
      `WITH gone AS (DELETE FROM ${staging} s WHERE ${where} RETURNING "row#" AS number, "cells#" AS cells),
         kept AS (INSERT INTO fiche.import_bad_row (import, number, cells, problems) SELECT ?, number, cells, ?::jsonb FROM gone RETURNING 1)
       SELECT count(*) AS n FROM kept`,
      [id, JSON.stringify([{ column: nameOf(field), message }])],
    );
    bad += rows[0]?.n ?? 0;
  };
  const [first] = plan.key;
  if (there && first !== undefined) {
    const label = plan.key.map((key) => findField(table, key)?.label ?? key).join(' and ');
    const columns = plan.key.map((key) => quoted(key)).join(', ');
    await refuse(
      `s."row#" IN (SELECT "row#" FROM (SELECT "row#", row_number() OVER (PARTITION BY ${columns} ORDER BY "row#") AS n FROM ${staging}) t WHERE n > 1)`,
      first,
      `An earlier row of the file has the same ${label}.`,
    );
  }
  const uniques = [
    ...table.fields
      .filter((field) => field.unique && typeOf(field).editable)
      .map((field) => ({ fields: [field.id], message: '', inUse: false })),
    ...table.constraints.flatMap((one) => (one.kind === 'unique' ? [{ ...one, inUse: false }] : [])),
    ...(table.kind === 'list'
      ? [{ fields: table.fields.map((field) => field.id), message: COMBINATION_TWICE, inUse: true }]
      : []),
  ];
  for (const { fields, message, inUse } of uniques) {
    const at = fields.at(-1) ?? '';
    const labels = fields.map((field) => findField(table, field)?.label ?? field).join(' and ');
    const columns = fields.map((field) => quoted(field)).join(', ');
    const present = fields.map((field) => `s.${quoted(field)} IS NOT NULL`).join(' AND ');
    await refuse(
      `s."action#" <> 'skip' AND s."row#" IN (SELECT "row#" FROM (SELECT "row#", row_number() OVER (PARTITION BY ${columns} ORDER BY "row#") AS n FROM ${staging} s WHERE ${present} AND "action#" <> 'skip') t WHERE n > 1)`,
      at,
      message || `An earlier row of the file has the same ${labels}. It must be different in each record.`,
    );
    if (there)
      await refuse(
        `s."action#" <> 'skip' AND EXISTS (SELECT FROM ${place} r WHERE ${fields.map((field) => `r.${quoted(field)} = s.${quoted(field)}`).join(' AND ')} AND r.id IS DISTINCT FROM s."record#"${inUse ? ' AND r.archived_at IS NULL' : ''})`,
        at,
        message || `Another record already has this ${labels}. It must be different in each record.`,
      );
  }
  for (const one of table.constraints) {
    if (one.kind !== 'noOverlap') continue;
    const columns = [...one.same, one.from, one.to].map((field) => quoted(field)).join(', ');
    const [from, to] = [quoted(one.from), quoted(one.to)];
    const partition = one.same.length > 0 ? `PARTITION BY ${one.same.map((field) => quoted(field)).join(', ')} ` : '';
    const others = there
      ? `UNION ALL SELECT NULL, ${columns} FROM ${place} r WHERE archived_at IS NULL AND NOT EXISTS (SELECT FROM ${staging} x WHERE x."record#" = r.id AND x."action#" = 'change')`
      : '';
    // Seen from both ends: a row of the file overlaps what begins before it, or what begins after it.
    const overlaps = (order: 'ASC' | 'DESC'): string =>
      order === 'ASC'
        ? `least(${from}, ${to}) < max(coalesce(greatest(${from}, ${to}), 'infinity')) OVER (${partition}ORDER BY least(${from}, ${to}), number NULLS FIRST ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING)`
        : `coalesce(greatest(${from}, ${to}), 'infinity') > min(least(${from}, ${to})) FILTER (WHERE number IS NULL) OVER (${partition}ORDER BY least(${from}, ${to}), number NULLS FIRST ROWS BETWEEN 1 FOLLOWING AND UNBOUNDED FOLLOWING)`;
    await refuse(
      `s."row#" IN (SELECT number FROM (SELECT number, ${overlaps('ASC')} AS a, ${overlaps('DESC')} AS b
         FROM (SELECT "row#" AS number, ${columns} FROM ${staging} WHERE "action#" <> 'skip' ${others}) o WHERE ${from} IS NOT NULL) t WHERE number IS NOT NULL AND (a OR b))`,
      one.from,
      one.message,
    );
  }
  return bad;
}
