import { type LinkedRecord, type Readable, readOperand } from '@fiche/core/entry';
import { isBlank, type Value } from '@fiche/core/fields';
import { generateForm, type PreparedForm, prepareForm, rootOf } from '@fiche/core/forms';
import { civilNow } from '@fiche/core/office';
import { quoted, relation } from '@fiche/core/queries';
import { fieldAtPath, findField, linkedTable, type TableDefinition, type Tables, typeOf } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import { factsSql, readFacts } from './facts.ts';
import { showTitle, titleSql } from './titles.ts';

const STEP = 5_000;
/** A builder waits for this: beyond it, what was looked at is said. */
const PATIENCE_MS = 8_000;
const EXAMPLES = 100;

export interface BrokenRecords {
  readonly breaks: number;
  readonly looked: number;
  readonly of: number;
  readonly examples: { id: number; title: string; value: string; why: string }[];
}

/** What is to hold for every record: what it reads, and what is wrong with a record, in words, if anything. */
interface Requirement {
  /** Paths that begin in the table and go on through links. */
  readonly reads: readonly string[];
  wrong(entry: Readable): string | undefined;
}

/**
 * How many records in use break something that is to hold, and the first of them, decided as a save would. Records are
 * read in steps, with the columns that are needed and no others. Nothing is written.
 */
export async function brokenRecords(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  { reads, wrong }: Requirement,
  account: string | null,
  form: PreparedForm = prepareForm(generateForm({ ...table, rules: [] }), tables),
): Promise<BrokenRecords> {
  const now = civilNow();
  const read = columnsOf(tables, table, reads);
  const examples: BrokenRecords['examples'] = [];
  let [broken, looked, after] = [0, 0, 0];
  const { rows: counted } = await database.raw<{ rows: { n: number }[] }>(
    `SELECT count(*) AS n FROM ${relation(table.id)} WHERE archived_at IS NULL`,
  );
  const until = performance.now() + PATIENCE_MS;
  for (;;) {
    const { rows } = await database.raw<{ rows: (Record<string, unknown> & { id: number; title: unknown })[] }>(
      `SELECT r.id, ${titleSql(tables, table, 'r')} AS title${read.sql} FROM ${relation(table.id)} r
       WHERE r.id > ? AND r.archived_at IS NULL ORDER BY r.id LIMIT ${STEP}`,
      [after],
    );
    for (const row of rows) {
      const entry: Readable = { form, account, now, hidden: {}, ...read.entry(row) };
      const why = wrong(entry);
      if (why === undefined) continue;
      broken++;
      if (examples.length < EXAMPLES)
        examples.push({
          id: row.id,
          title: showTitle(tables, table, row.title),
          value: shown(tables, table, reads, entry),
          why,
        });
    }
    looked += rows.length;
    after = rows.at(-1)?.id ?? after;
    if (rows.length < STEP || performance.now() > until) break;
  }
  return { breaks: broken, looked, of: Math.max(looked, counted[0]?.n ?? 0), examples };
}

/** What has to be read of each record: its own columns, and for links the columns beyond them. */
function columnsOf(tables: Tables, table: TableDefinition, paths: readonly string[]) {
  const fields = [...new Set(paths.map(rootOf))].flatMap((id) => findField(table, id) ?? []);
  const beyond = fields.map((field) => ({
    field,
    target: linkedTable(field),
    paths: paths.filter((path) => path.startsWith(`${field.id}.`)).map((path) => path.slice(field.id.length + 1)),
  }));
  const columns = beyond.map(({ field, target, paths: far }, n) => {
    const alias = `l${n}`;
    const facts =
      target !== undefined && far.length > 0
        ? `, (SELECT ${factsSql(tables, target, alias, far)} FROM ${relation(target)} ${alias} WHERE ${alias}.id = r.${quoted(field.id)}) AS facts${n}`
        : '';
    return `, r.${quoted(field.id)} AS value${n}${facts}`;
  });
  return {
    sql: columns.join(''),
    entry: (row: Record<string, unknown>) => {
      const values: Record<string, Value> = {};
      const linked: Record<string, LinkedRecord> = {};
      beyond.forEach(({ field, target }, n) => {
        values[field.id] = (row[`value${n}`] ?? null) as Value;
        const facts = row[`facts${n}`] as Record<string, unknown> | null | undefined;
        if (target !== undefined && facts) linked[field.id] = { title: '', facts: readFacts(tables, target, facts) };
      });
      return { values, linked };
    },
  };
}

/** The values that decided, in words: `Length 14.2, Berth’s Longest vessel 12`. */
const shown = (tables: Tables, table: TableDefinition, paths: readonly string[], entry: Readable): string =>
  paths
    .flatMap((path) => {
      const field = fieldAtPath(tables, table.id, path);
      const value = readOperand(entry, { kind: 'form', path });
      return field && !isBlank(value) && linkedTable(field) === undefined
        ? [`${field.label} ${typeOf(field).format(value, field.settings)}`]
        : [];
    })
    .join(', ');
