import { type Chart, POINT_CELLS, type PointFigures } from '@fiche/core/charts';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { columnSql } from '../views/index.ts';
import type { Found } from './bars.ts';

interface PointRow {
  readonly n: string | number;
  readonly total: string | number;
  readonly x: number;
  readonly y: number;
  readonly x0: number;
  readonly x1: number;
  readonly y0: number;
  readonly y1: number;
}

/** In which cell of so many a number lies, from 0; all in the first where the least is the most. */
const cellOf = (value: 'x' | 'y', most: number): string =>
  `coalesce(least(floor((v.${value} - b.${value}0) / nullif(b.${value}1 - b.${value}0, 0) * ${most}), ${most - 1}), 0)`;

/** The figures of two numbers against each other: records in cells, so that as many rows are read as circles are drawn. */
export async function pointFigures(
  database: Database,
  tables: Tables,
  table: TableDefinition,
  chart: Extract<Chart, { kind: 'points' }>,
  { from, where, values }: Found,
): Promise<PointFigures> {
  const { rows } = await database.raw<{ rows: PointRow[] }>(
    `WITH v AS MATERIALIZED (
       SELECT (${columnSql(tables, table, chart.x)})::float8 AS x, (${columnSql(tables, table, chart.y)})::float8 AS y FROM ${from} WHERE ${where}),
     b AS (SELECT min(x) AS x0, max(x) AS x1, min(y) AS y0, max(y) AS y1 FROM v WHERE x IS NOT NULL AND y IS NOT NULL)
     SELECT count(*) AS n, (SELECT count(*) FROM v) AS total, avg(v.x) AS x, avg(v.y) AS y, min(v.x) AS x0, max(v.x) AS x1, min(v.y) AS y0, max(v.y) AS y1
     FROM v, b WHERE v.x IS NOT NULL AND v.y IS NOT NULL
     GROUP BY ${cellOf('x', POINT_CELLS.x)}, ${cellOf('y', POINT_CELLS.y)} ORDER BY n DESC`,
    [...values],
  );
  const cells = rows.map(({ n, x, y, x0, x1, y0, y1 }) => ({
    count: Number(n),
    x,
    y,
    xs: [x0, x1] as [number, number],
    ys: [y0, y1] as [number, number],
  }));
  const shown = cells.reduce((sum, cell) => sum + cell.count, 0);
  const total = rows[0] ? Number(rows[0].total) : await countOf(database, { from, where, values });
  return { kind: 'points', cells, blank: total - shown, total };
}

async function countOf(database: Database, { from, where, values }: Found): Promise<number> {
  const { rows } = await database.raw<{ rows: { n: string }[] }>(`SELECT count(*) AS n FROM ${from} WHERE ${where}`, [
    ...values,
  ]);
  return Number(rows[0]?.n ?? 0);
}
