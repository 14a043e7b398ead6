import {
  type BarChart,
  type BarFigures,
  type FigureBar,
  type FigurePart,
  longerStep,
  MOST_CATEGORIES,
  MOST_PARTS,
  MOST_STEPS,
  STEP_DAYS,
  type Step,
} from '@fiche/core/charts';
import { takesWords, type Value } from '@fiche/core/fields';
import { quoted } from '@fiche/core/queries';
import { type TableDefinition, type Tables, targetTable, typeOf } from '@fiche/core/tables';
import { columnAt } from '@fiche/core/views';
import type { Database } from '../database/index.ts';
import { titlesOf } from '../records/index.ts';
import { columnSql } from '../views/index.ts';
import { cellAggregates, OVER_CELLS } from './measures.ts';

/** The records of a listing as SQL: what stands behind FROM, where they are `r`, and their conditions with the values. */
export interface Found {
  readonly from: string;
  readonly where: string;
  readonly values: readonly (string | number)[];
}

/** A cell that PostgreSQL gave: one bar and one part of it. */
interface CellRow {
  readonly key: unknown;
  readonly other_key: boolean;
  readonly part: unknown;
  readonly other_part: boolean;
  readonly n: string | number;
  readonly amount: number | null;
  readonly keys: string | number;
  readonly parts: string | number;
}

/** A field that is grouped by, as an SQL expression, with the join that it needs. */
interface Grouping {
  readonly sql: string;
  readonly join: string;
}

/** One value for each record; for several choices each of them, so that the record counts under each. */
function groupingOf(tables: Tables, table: TableDefinition, path: string, alias: string): Grouping {
  const field = columnAt(tables, table.id, path)?.field;
  const sql = columnSql(tables, table, path);
  if (!takesWords(field)) return { sql, join: '' };
  return {
    sql: `${quoted(alias)}.value`,
    join: ` LEFT JOIN LATERAL unnest(${sql}) AS ${quoted(alias)}(value) ON true`,
  };
}

/** The number of steps from one day to another. */
const stepsBetween = (from: string, to: string, step: Step): number =>
  (Date.parse(to) - Date.parse(from)) / 86_400_000 / STEP_DAYS[step];

/** The figures of a chart that has bars: summed in SQL, so that what is read is as many rows as are drawn. */
export async function barFigures(
  database: Database,
  tables: Tables,
  table: TableDefinition,
  chart: BarChart,
  found: Found,
): Promise<BarFigures> {
  if (chart.kind === 'categories') return figuresOf(database, tables, table, chart, found, null);
  let step: Step = chart.step;
  for (;;) {
    const figures = await figuresOf(database, tables, table, chart, found, step);
    const days = figures.bars.map((bar) => String(bar.value));
    const [first = '', last = ''] = [days[0], days.at(-1)];
    const fits = days.length === 0 || stepsBetween(first, last, step) <= MOST_STEPS;
    if ((fits && days.length <= MOST_STEPS) || longerStep(step) === step) return figures;
    step = longerStep(step);
  }
}

async function figuresOf(
  database: Database,
  tables: Tables,
  table: TableDefinition,
  chart: BarChart,
  { from, where, values }: Found,
  step: Step | null,
): Promise<BarFigures> {
  const key = groupingOf(tables, table, chart.path, 'key:');
  const part =
    chart.stacked === null ? { sql: 'NULL::boolean', join: '' } : groupingOf(tables, table, chart.stacked, 'part:');
  const amount = chart.measure.of === 'count' ? 'NULL' : columnSql(tables, table, chart.measure.path);
  const keySql = step === null ? key.sql : `date_trunc('${step}', (${key.sql})::timestamp)::date`;
  const measured = OVER_CELLS[chart.measure.of];
  // The most records first where the measure has none: a bar without a number is the last.
  const top = (column: 'key' | 'part', most: number): string =>
    `SELECT ${column} FROM cells WHERE ${column} IS NOT NULL GROUP BY ${column} ORDER BY ${measured} DESC NULLS LAST, ${column} LIMIT ${most}`;
  const { rows } = await database.raw<{ rows: CellRow[] }>(
    `WITH cells AS MATERIALIZED (
       SELECT key, ${chart.stacked === null ? 'NULL::boolean' : 'part'} AS part, ${cellAggregates(chart.measure, 'amount')}
       FROM (SELECT ${keySql} AS key, ${part.sql} AS part, ${amount} AS amount FROM ${from}${key.join}${part.join} WHERE ${where}) v
       GROUP BY key${chart.stacked === null ? '' : ', part'}),
     keys AS (${step === null ? top('key', MOST_CATEGORIES) : 'SELECT DISTINCT key FROM cells WHERE key IS NOT NULL'}),
     parts AS (${top('part', MOST_PARTS)})
     SELECT ${step === null ? 'keys.key' : 'keys.key::text'} AS key, cells.key IS NOT NULL AND keys.key IS NULL AS other_key, parts.part, cells.part IS NOT NULL AND parts.part IS NULL AS other_part,
       sum(cells.n) AS n, (${measured})::float8 AS amount, count(DISTINCT cells.key) AS keys, count(DISTINCT cells.part) AS parts
     FROM cells LEFT JOIN keys ON keys.key = cells.key LEFT JOIN parts ON parts.part = cells.part
     GROUP BY 1, 2, 3, 4 ORDER BY 1 LIMIT ${(MOST_STEPS + 2) * (MOST_PARTS + 2)}`,
    [...values],
  );
  return barsOfCells(database, tables, table, chart, rows, step);
}

/** The cells as bars with their parts, in the order in which they are drawn. */
async function barsOfCells(
  database: Database,
  tables: Tables,
  table: TableDefinition,
  chart: BarChart,
  rows: readonly CellRow[],
  step: Step | null,
): Promise<BarFigures> {
  const titles = await titlesIn(database, tables, table, chart, rows, step);
  const partAt = new Map<string, FigurePart>();
  for (const row of chart.stacked === null ? [] : rows) {
    const others = row.other_part ? Math.max(partAt.get('others')?.others ?? 0, Number(row.parts)) : undefined;
    partAt.set(placeOf(row.part, row.other_part), {
      ...titles.part(row.part),
      ...(others === undefined ? {} : { others }),
    });
  }
  const weights = new Map<string, number>();
  for (const row of rows) {
    const at = placeOf(row.part, row.other_part);
    weights.set(at, (weights.get(at) ?? 0) + Math.abs(row.amount ?? 0));
  }
  const partKeys = [...partAt.keys()].sort(
    (a, b) => rankOf(a) - rankOf(b) || (weights.get(b) ?? 0) - (weights.get(a) ?? 0),
  );
  const bars = new Map<string, FigureBar & { parts: (number | null)[] }>();
  for (const row of rows) {
    const at = placeOf(row.key, row.other_key);
    const before = bars.get(at);
    const bar = before ?? {
      ...titles.key(row.key),
      count: 0,
      amount: null,
      parts: partKeys.map(() => null),
    };
    const parts = bar.parts.map((amount, part) =>
      partKeys[part] === placeOf(row.part, row.other_part) ? row.amount : amount,
    );
    const amount = row.amount === null ? bar.amount : (bar.amount ?? 0) + row.amount;
    bars.set(at, { ...bar, parts, amount, count: bar.count + Number(row.n) });
  }
  const all = [...bars].map(([at, bar]) => ({ at, bar }));
  const blank = bars.get('blank')?.count ?? 0;
  const total = all.reduce((sum, { bar }) => sum + bar.count, 0);
  const left = bars.get('others');
  const others = rows.filter((row) => row.other_key).map((row) => Number(row.keys));
  const shown = all
    .filter(({ at }) => at !== 'others' && (step === null || at !== 'blank'))
    .sort(step === null ? inOrder(chart) : byDay);
  return {
    kind: 'bars',
    step,
    bars: shown.map(({ bar: { parts, ...bar } }) => (chart.stacked === null ? bar : { ...bar, parts })),
    others: left ? { values: Math.max(...others), count: left.count, amount: left.amount } : null,
    parts: partKeys.flatMap((at) => partAt.get(at) ?? []),
    blank,
    total,
  };
}

const placeOf = (value: unknown, other: boolean): string => (other ? 'others' : value === null ? 'blank' : `=${value}`);

/** The others, and then what is blank, stand behind all named values. */
const rankOf = (at: string): number => (at === 'others' ? 1 : at === 'blank' ? 2 : 0);

interface PlacedBar {
  readonly at: string;
  readonly bar: FigureBar;
}

const byDay = (a: PlacedBar, b: PlacedBar): number => (String(a.bar.value) < String(b.bar.value) ? -1 : 1);

/** Compares bars by name or by size, those of the others and of blanks last. */
function inOrder(chart: BarChart): (a: PlacedBar, b: PlacedBar) => number {
  const byName = chart.kind === 'categories' && chart.order === 'name';
  const collator = new Intl.Collator(undefined, { numeric: true });
  const name = ({ bar }: PlacedBar): string => bar.title ?? String(bar.value);
  return (a, b) =>
    rankOf(a.at) - rankOf(b.at) ||
    (byName ? 0 : (b.bar.amount ?? Number.NEGATIVE_INFINITY) - (a.bar.amount ?? Number.NEGATIVE_INFINITY)) ||
    collator.compare(name(a), name(b));
}

type Named = (raw: unknown) => { value: Value; title: string | null };

/** How the values that are grouped by read: in their field’s form, links with the titles of their records. */
async function titlesIn(
  database: Database,
  tables: Tables,
  table: TableDefinition,
  chart: BarChart,
  rows: readonly CellRow[],
  step: Step | null,
): Promise<{ key: Named; part: Named }> {
  const named = async (path: string | null, values: readonly unknown[], day: boolean): Promise<Named> => {
    const field = path === null ? undefined : columnAt(tables, table.id, path)?.field;
    const target = tables.get(targetTable(field) ?? '');
    const ids = [...new Set(values.filter((value) => value !== null))].map(Number);
    const titles = target
      ? await titlesOf(
          database,
          tables,
          ids.map((id) => ({ table: target.id, id })),
        )
      : new Map<string, string>();
    return (raw) => {
      if (raw === null || raw === undefined || !field) return { value: null, title: null };
      // One of several choices is a word, like a single one; a step is the day that it begins on.
      const value = day || takesWords(field) ? (raw as Value) : (typeOf(field).stored(raw) as Value);
      return { value, title: target ? (titles.get(`${target.id}:${raw}`) ?? `#${raw}`) : null };
    };
  };
  return {
    key: await named(
      chart.path,
      rows.map((row) => row.key),
      step !== null,
    ),
    part: await named(
      chart.stacked,
      rows.map((row) => row.part),
      false,
    ),
  };
}
