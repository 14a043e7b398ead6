import type { Hold } from '@fiche/core/api';
import { fieldType, linksOne, plainText, type Settings, type Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import {
  type FieldDefinition,
  type FieldId,
  findField,
  type TableDefinition,
  type TableId,
  type Tables,
  typeOf,
} from '@fiche/core/tables';
import { constraintSql, sameRecords } from '../constraints/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { notFound } from '../http/index.ts';
import { showTitle, titleSql } from '../records/index.ts';
import { converterTo, type NewType } from './converter.ts';
import { tryNarrowing } from './narrowing.ts';
import { readSettings } from './readSettings.ts';

type Queryable = Database | Transaction;

interface Broken {
  readonly breaks: number;
  readonly examples: readonly { id: number; title: string; value: string; why: string }[];
}

const EXAMPLES = 100;

/** How many records break something that is to hold for every one, and the first of them. Nothing is written. */
export async function tryHold(
  database: Queryable,
  tables: Tables,
  tableId: TableId,
  hold: Hold,
  account: string | null,
): Promise<Broken> {
  const table = tables.get(tableId);
  if (!table) throw notFound(say('This table'));
  if (hold.kind === 'narrowing') {
    const field = { ...fieldOf(table, hold.field), narrowing: hold.narrowing };
    return tryNarrowing(database, tables, table, field, account);
  }
  if (hold.kind === 'limits') return tryLimits(database, tables, table, fieldOf(table, hold.field), hold.settings);
  const { where, shown, why } = breakers(table, hold);
  return listBroken(database, tables, table, where, shown, why);
}

const fieldOf = (table: TableDefinition, id: string): FieldDefinition => {
  const field = findField(table, id);
  if (!field) throw notFound(say('This field'));
  return field;
};

/** The records that break what is to hold, as a condition over `r`; what is shown of them, and why. */
function breakers(
  table: TableDefinition,
  hold: Exclude<Hold, { kind: 'limits' | 'narrowing' }>,
): { where: string; shown: readonly string[]; why: string } {
  if (hold.kind === 'constraint') return constraintSql(hold.constraint).breakers(table, hold.constraint);
  const { id } = fieldOf(table, hold.field);
  return hold.kind === 'required'
    ? { where: `r.${quoted(id)} IS NULL`, shown: [], why: say('blank') }
    : { where: sameRecords(table.id, [id]), shown: [id], why: say('another record has the same') };
}

async function listBroken(
  database: Queryable,
  tables: Tables,
  table: TableDefinition,
  where: string,
  shown: readonly string[],
  why: string,
): Promise<Broken> {
  const columns = shown.map((id, n) => `, r.${quoted(id)} AS shown${n}`).join('');
  const { rows } = await database.raw<{
    rows: (Record<string, unknown> & { id: number; title: unknown; breaks: number })[];
  }>(
    `SELECT r.id, ${titleSql(tables, table, 'r')} AS title${columns}, count(*) OVER () AS breaks FROM ${relation(table.id)} r WHERE ${where} ORDER BY r.id LIMIT ${EXAMPLES}`,
  );
  return {
    breaks: rows[0]?.breaks ?? 0,
    examples: rows.map((row) => ({
      id: row.id,
      title: showTitle(tables, table, row.title),
      value: shown
        .flatMap((id, n) => {
          const field = findField(table, id);
          const value = row[`shown${n}`] as Value;
          return field && value !== null ? [`${field.label} ${typeOf(field).format(value, field.settings)}`] : [];
        })
        .join(', '),
      why,
    })),
  };
}

async function tryLimits(
  database: Queryable,
  tables: Tables,
  table: TableDefinition,
  field: FieldDefinition,
  sent: Settings,
): Promise<Broken> {
  const settings = readSettings(field.type, sent);
  const found = await failing(
    database,
    tables,
    table,
    field,
    await countValues(database, table, field),
    (value) => typeOf(field).check(value, settings)[0]?.message,
  );
  return { breaks: found.fails, examples: found.failing };
}

/** What converting a field's values to another type would do. Each distinct value is tried once. */
export async function previewType(
  database: Queryable,
  tables: Tables,
  tableId: TableId,
  fieldId: FieldId,
  to: NewType,
) {
  const table = tables.get(tableId);
  if (!table) throw notFound(say('This table'));
  const field = fieldOf(table, fieldId);
  const samples: { from: string; to: string }[] = [];
  const counted = await countValues(database, table, field);
  const convertAll = converterTo(tables, field, to);
  const convertValue = await convertAll(
    database,
    counted.map((one) => one.value),
  );
  const target = linksOne(to) ? findField(tables.get(String(to.settings.table)), to.matchOn ?? '') : undefined;
  const found = await failing(database, tables, table, field, counted, (value) => {
    const read = convertValue(value);
    if (!read.ok) return read.message;
    if (samples.length < 8)
      samples.push({
        from: typeOf(field).format(value, field.settings),
        to: target
          ? `${target.label} ${plainText(value, field)}`
          : read.value === null
            ? ''
            : fieldType(to.type).format(read.value, to.settings),
      });
    return undefined;
  });
  return { ...found, samples };
}

interface CountedValue {
  readonly value: Value;
  readonly n: number;
}

/** The distinct values of a column, each with how many records have it. */
async function countValues(
  database: Queryable,
  table: TableDefinition,
  field: FieldDefinition,
): Promise<readonly CountedValue[]> {
  const { rows } = await database.raw<{ rows: CountedValue[] }>(
    `SELECT ${quoted(field.id)} AS value, count(*) AS n FROM ${relation(table.id)} GROUP BY 1`,
  );
  return rows;
}

/** The values of a column that something is wrong with, counted by record, and the first records that have one. */
async function failing(
  database: Queryable,
  tables: Tables,
  table: TableDefinition,
  field: FieldDefinition,
  counted: readonly CountedValue[],
  wrong: (value: Value) => string | undefined,
) {
  const column = `r.${quoted(field.id)}`;
  const bad = new Map<string, string>();
  let [fails, converts, blank] = [0, 0, 0];
  for (const { value, n } of counted) {
    const why = value === null ? undefined : wrong(value);
    if (value === null) blank += n;
    else if (why === undefined) converts += n;
    else {
      fails += n;
      if (bad.size < EXAMPLES) bad.set(JSON.stringify(value), why);
    }
  }
  const first = [...bad.keys()].map((json) => JSON.parse(json) as Value);
  const { rows: records } =
    first.length === 0
      ? { rows: [] }
      : await database.raw<{ rows: { id: number; title: unknown; value: Value }[] }>(
          `SELECT r.id, ${titleSql(tables, table, 'r')} AS title, ${column} AS value FROM ${relation(table.id)} r
           WHERE ${first.map(() => `${column} = ?::${typeOf(field).column(field.settings)}`).join(' OR ')} ORDER BY r.id LIMIT ${EXAMPLES}`,
          first as string[],
        );
  const words = counted.flatMap(({ value }) => (typeof value === 'string' ? [value] : []));
  return {
    converts,
    blank,
    fails,
    words: words.sort((a, b) => a.localeCompare(b, 'en', { numeric: true })).slice(0, 200),
    failing: records.map((row) => ({
      id: row.id,
      title: showTitle(tables, table, row.title),
      value: typeOf(field).format(row.value, field.settings),
      why: bad.get(JSON.stringify(row.value)) ?? '',
    })),
  };
}
