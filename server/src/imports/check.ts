import { once } from 'node:events';
import { type Readable as ReadableEntry, readOperand } from '@fiche/core/entry';
import { isBlank, type Problem, type Value } from '@fiche/core/fields';
import { generateForm, type PreparedForm, prepareForm } from '@fiche/core/forms';
import { type CellReading, type ImportColumn, type ImportCounts, type ImportPlan, readCell } from '@fiche/core/imports';
import { sourceOf } from '@fiche/core/narrowing';
import { quoted, relation } from '@fiche/core/queries';
import { brokenRule } from '@fiche/core/rules';
import {
  checkField,
  type FieldDefinition,
  findField,
  nameFrom,
  type TableDefinition,
  type Tables,
  targetTable,
  typeOf,
} from '@fiche/core/tables';
import { from as copyFrom } from 'pg-copy-streams';
import type { Database } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import type { Worker } from '../tasks/index.ts';
import { LinkFinder } from './links.ts';
import { type FileRow, rowsOf } from './rows.ts';
import { findImport, partsOf } from './store.ts';

/** Bad rows that are kept with their reasons; a file with more is the wrong file, or under the wrong plan. */
const BAD_MOST = 20_000;
const BATCH = 1_000;

/** The table of an import's good rows. */
export const stagingOf = (id: number): string => `staging."import_${id}"`;

interface Target {
  readonly column: ImportColumn;
  readonly field: FieldDefinition;
  readonly how: CellReading;
}

/** The table that a plan brings rows into, as it is or as it will be made, and the field of each column that goes somewhere. */
export function targetsOf(
  tables: Tables,
  cabinet: string,
  plan: ImportPlan,
): { table: TableDefinition; targets: Target[] } {
  const { into } = plan;
  const taken = new Set<string>();
  const before = into.kind === 'table' ? tables.get(into.table) : undefined;
  if (into.kind === 'table' && before?.cabinet !== cabinet) throw notFound('This table');
  for (const field of [...(before?.fields ?? []), ...(before?.retired ?? [])]) taken.add(field.id);
  const targets = plan.columns.flatMap((column): Target[] => {
    const how = { dates: column.dates, decimal: column.decimal };
    if (column.to.kind === 'nowhere') return [];
    if (column.to.kind === 'field') {
      const field = findField(before, column.to.field);
      if (!field || !typeOf(field).editable)
        throw new Refusal(
          422,
          `“${column.name}” goes to a field that is not there or cannot be written. Choose another.`,
        );
      return [{ column, field, how }];
    }
    if (before)
      throw new Refusal(
        422,
        `Add the field “${column.to.field.label}” to ${before.label} first, then bring the file in.`,
      );
    const id = nameFrom(column.to.field.label, taken, 'field');
    taken.add(id);
    return [{ column, field: { ...column.to.field, id }, how }];
  });
  const twice = targets.find((one, at) => targets.findIndex((other) => other.field.id === one.field.id) !== at);
  if (twice) throw new Refusal(422, `Two columns go to ${twice.field.label}. Let one of them go nowhere.`);
  if (targets.length === 0) throw new Refusal(422, 'No column goes anywhere yet. Choose a field for at least one.');
  const table: TableDefinition = before ?? {
    id: `${cabinet}_new`,
    cabinet,
    label: into.kind === 'new' ? into.label : '',
    description: '',
    kind: 'records',
    title: null,
    fields: targets.map((one) => one.field),
    retired: [],
    rules: [],
    constraints: [],
    revision: 1,
  };
  return { table, targets };
}

interface BadRow {
  readonly number: number;
  readonly cells: readonly string[];
  readonly problems: readonly { column: string; message: string }[];
}

/** Reads a file under its plan, checks every row by all that guards the table, and keeps the good ones ready to write. */
export const checkImport: Worker = async (work) => {
  const { app, owner } = work.databases;
  const { id } = work.plan as { id: number };
  const row = await findImport(app, work.cabinet, id);
  const { plan } = row;
  if (!plan || row.state === 'written') throw new Refusal(409, 'This file has been brought in already.');
  const { tables } = await loadDefinitions(app);
  const { table, targets } = targetsOf(tables, work.cabinet, plan);
  await makeStaging(owner, id, targets);
  const checker = new RowChecker(app, tables, table, targets, plan);
  const staging = await Staging.open(owner, id, targets);
  const bad: BadRow[] = [];
  const [counted, badCount] = [{ rows: 0 }, { n: 0 }];
  try {
    const settle = async (batch: readonly FileRow[]): Promise<void> => {
      for (const checked of await checker.check(batch)) {
        counted.rows++;
        if ('values' in checked) await staging.write(checked.row, checked.values);
        else {
          badCount.n++;
          bad.push({ number: checked.row.number, cells: checked.row.cells, problems: checked.problems });
        }
      }
      if (bad.length >= 500) await keepBad(owner, id, bad.splice(0));
      if (badCount.n > BAD_MOST)
        throw new Refusal(
          422,
          `More than ${BAD_MOST.toLocaleString('en-GB')} rows cannot be brought in, the first because: ${await firstReason(owner, id)} Look at where the columns go.`,
        );
      await work.progress(counted.rows, Math.max(counted.rows, row.counts?.rows ?? 0));
    };
    const batch: FileRow[] = [];
    let names: readonly string[] | undefined;
    for await (const one of rowsOf(partsOf(app, id), plan.reading)) {
      if (names === undefined) {
        names = one.cells;
        continue;
      }
      // A header that comes again in the middle is no row.
      if (one.cells.length === names.length && one.cells.every((cell, at) => cell === names?.[at])) continue;
      batch.push(one);
      if (batch.length === BATCH) await settle(batch.splice(0));
    }
    await settle(batch);
    await staging.close();
    await keepBad(owner, id, bad);
    badCount.n += await checkTogether(owner, id, table, targets, plan);
  } catch (error) {
    await staging.drop();
    throw error;
  }
  const counts = await countActions(owner, id, counted.rows, badCount.n);
  if (counts.rows === 0) throw new Refusal(422, 'This file has no rows below its names.');
  await owner('fiche.import')
    .where({ id })
    .update({ state: 'checked', counts: JSON.stringify(counts) });
  return { ...counts };
};

const firstReason = async (owner: Database, id: number): Promise<string> => {
  const row = await owner('fiche.import_bad_row').where({ import: id }).orderBy('number').first('problems');
  return String((row?.problems as { message: string }[] | undefined)?.[0]?.message ?? '');
};

async function makeStaging(owner: Database, id: number, targets: readonly Target[]): Promise<void> {
  const columns = targets.map(({ field }) => `${quoted(field.id)} ${typeOf(field).column(field.settings)}`).join(', ');
  await owner.raw(`DROP TABLE IF EXISTS ${stagingOf(id)}`);
  // Not logged: after a crash the file is read again.
  await owner.raw(
    `CREATE UNLOGGED TABLE ${stagingOf(id)} ("row#" bigint, "cells#" json, "record#" bigint, "action#" text, ${columns})`,
  );
  await owner('fiche.import_bad_row').where({ import: id }).delete();
}

/** Good rows on their way into the database, by COPY. */
class Staging {
  private constructor(
    private readonly owner: Database,
    private readonly id: number,
    private readonly targets: readonly Target[],
    private readonly connection: unknown,
    private readonly stream: ReturnType<typeof copyFrom>,
  ) {
    stream.on('error', (error) => {
      this.failed = error;
    });
  }

  private failed: Error | undefined;
  private text = '';
  private over = false;

  static async open(owner: Database, id: number, targets: readonly Target[]): Promise<Staging> {
    const connection = await owner.client.acquireConnection();
    const columns = targets.map(({ field }) => quoted(field.id)).join(', ');
    const stream = connection.query(copyFrom(`COPY ${stagingOf(id)} ("row#", "cells#", ${columns}) FROM STDIN`));
    return new Staging(owner, id, targets, connection, stream);
  }

  async write(row: FileRow, values: ReadonlyMap<string, Value>): Promise<void> {
    const parts = [String(row.number), escapeCopy(JSON.stringify(row.cells))];
    for (const { field } of this.targets) parts.push(copyText(values.get(field.id) ?? null));
    this.text += `${parts.join('\t')}\n`;
    if (this.text.length < 256 * 1024) return;
    await this.flush();
  }

  private async flush(): Promise<void> {
    if (this.failed) throw this.failed;
    if (!this.stream.write(this.text)) await once(this.stream, 'drain');
    this.text = '';
  }

  async close(): Promise<void> {
    await this.flush();
    this.stream.end();
    await once(this.stream, 'finish');
    this.over = true;
    await this.owner.client.releaseConnection(this.connection);
  }

  /** Ends without keeping anything. */
  async drop(): Promise<void> {
    if (!this.over) {
      this.stream.destroy(new Error('dropped'));
      await once(this.stream, 'close').catch(() => undefined);
      await this.owner.client.releaseConnection(this.connection);
    }
    await this.owner.raw(`DROP TABLE IF EXISTS ${stagingOf(this.id)}`);
  }
}

const escapeCopy = (text: string): string =>
  text.replace(/[\\\t\n\r]/g, (mark) => ({ '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' })[mark] ?? mark);

/** A value in COPY's text form; a list as an array literal. */
function copyText(value: Value): string {
  if (value === null) return '\\N';
  if (typeof value !== 'object') return typeof value === 'string' ? escapeCopy(value) : String(value);
  const items = value.map((item) => (typeof item === 'number' ? item : `"${item.replace(/[\\"]/g, '\\$&')}"`));
  return escapeCopy(`{${items.join(',')}}`);
}

type Checked =
  | { readonly row: FileRow; readonly values: ReadonlyMap<string, Value> }
  | { readonly row: FileRow; readonly problems: readonly { column: string; message: string }[] };

/** Checks rows by all that one row can be checked by: types, limits, required, links, combinations, rules. */
class RowChecker {
  private readonly form: PreparedForm;
  private readonly links: LinkFinder;
  private readonly requiredElsewhere: readonly FieldDefinition[];

  constructor(
    app: Database,
    tables: Tables,
    private readonly table: TableDefinition,
    private readonly targets: readonly Target[],
    plan: ImportPlan,
  ) {
    const known = new Map(tables).set(table.id, table);
    this.form = prepareForm(generateForm(table), known);
    this.links = new LinkFinder(app, this.form);
    const given = new Set(targets.map((one) => one.field.id));
    this.requiredElsewhere = table.fields.filter(
      (field) => field.required && !given.has(field.id) && typeOf(field).editable && field.initial?.kind !== 'value',
    );
    // A record that is only changed keeps what the file does not have.
    const adds = plan.key.length === 0 || plan.missing === 'add';
    const [missing] = this.requiredElsewhere;
    if (missing && adds)
      throw new Refusal(
        422,
        `${missing.label} is required in ${table.label}, and no column goes there. Choose one, or give the field a default.`,
      );
  }

  async check(rows: readonly FileRow[]): Promise<Checked[]> {
    const read = rows.map((row) => this.read(row));
    await this.links.find(
      this.targets
        .filter(({ field }) => targetTable(field) !== undefined)
        .map(({ field, column }) => ({ field, matchOn: column.matchOn })),
      read,
    );
    await this.links.combinations();
    return read.map((one, at) => {
      const row = rows[at] as FileRow;
      const problems = [...one.problems, ...this.problemsOf(one)];
      if (problems.length > 0) return { row, problems };
      return { row, values: one.values };
    });
  }

  private read(row: FileRow) {
    const values = new Map<string, Value>();
    const texts = new Map<string, string>();
    const problems: { column: string; message: string }[] = [];
    for (const { column, field, how } of this.targets) {
      const cell = row.cells[column.at] ?? '';
      if (targetTable(field) !== undefined) {
        texts.set(field.id, cell.trim());
        continue;
      }
      const found = readCell(field, cell, how);
      if (!found.ok) problems.push({ column: column.name, message: found.message });
      else values.set(field.id, found.value);
    }
    return { values, texts, problems, linked: {} as Record<string, { title: string; facts: Record<string, Value> }> };
  }

  private problemsOf(one: ReturnType<RowChecker['read']>): { column: string; message: string }[] {
    const found: { column: string; message: string }[] = [];
    for (const { column, field } of this.targets) {
      if (one.problems.some((problem) => problem.column === column.name)) continue;
      const value = one.values.get(field.id) ?? null;
      if (isBlank(value) && field.required && field.initial?.kind === 'value')
        one.values.set(field.id, field.initial.value);
      for (const problem of checkField(field, one.values.get(field.id) ?? null, field.required))
        found.push({ column: column.name, message: problem.message });
      if (!isBlank(value) && sourceOf(field)?.column !== undefined && !this.links.allows(field, one.values))
        found.push({
          column: column.name,
          message: `“${value}” is not in the option list under what stands beside it.`,
        });
    }
    if (found.length > 0 || one.problems.length > 0) return found;
    const entry: ReadableEntry = {
      form: this.form,
      account: null,
      values: Object.fromEntries(one.values),
      linked: one.linked,
    };
    for (const rule of this.form.rules) {
      const broken: Problem | undefined = brokenRule(rule, (operand) => readOperand(entry, operand));
      if (broken) found.push({ column: this.nameOf(broken.path), message: broken.message });
    }
    return found;
  }

  private nameOf(field: string): string {
    return (
      this.targets.find((one) => one.field.id === field)?.column.name ?? findField(this.table, field)?.label ?? field
    );
  }
}

async function keepBad(owner: Database, id: number, rows: readonly BadRow[]): Promise<void> {
  if (rows.length === 0) return;
  await owner.raw(
    `INSERT INTO fiche.import_bad_row (import, number, cells, problems)
     SELECT ?, (r->>'number')::bigint, r->'cells', r->'problems' FROM jsonb_array_elements(?::jsonb) r ON CONFLICT DO NOTHING`,
    [id, JSON.stringify(rows)],
  );
}

/**
 * Checks what only all rows together show, in the database: which record each row finds by its key, and what would be
 * there twice or overlap, in the file or with what is there. Returns how many rows turned out bad.
 */
async function checkTogether(
  owner: Database,
  id: number,
  table: TableDefinition,
  targets: readonly Target[],
  plan: ImportPlan,
): Promise<number> {
  const staging = stagingOf(id);
  const there = plan.into.kind === 'table';
  const place = relation(table.id);
  const given = new Set(targets.map((one) => one.field.id));
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
  const keys = plan.key.filter((field) => given.has(field));
  if (there && keys.length > 0) {
    const same = keys.map((key) => `r.${quoted(key)} = s.${quoted(key)}`).join(' AND ');
    const label = keys.map((key) => findField(table, key)?.label ?? key).join(' and ');
    const first = keys[0] ?? '';
    await refuse(
      keys.map((key) => `s.${quoted(key)} IS NULL`).join(' OR '),
      first,
      `${label} is blank, so the row finds no record.`,
    );
    await refuse(
      `(SELECT count(*) FROM (SELECT 1 FROM ${place} r WHERE ${same} LIMIT 2) two) > 1`,
      first,
      `Several records have this ${label}. Choose another key.`,
    );
    const columns = keys.map((key) => quoted(key)).join(', ');
    await refuse(
      `s."row#" IN (SELECT "row#" FROM (SELECT "row#", row_number() OVER (PARTITION BY ${columns} ORDER BY "row#") AS n FROM ${staging}) t WHERE n > 1)`,
      first,
      `An earlier row of the file has the same ${label}.`,
    );
    await owner.raw(`UPDATE ${staging} s SET "record#" = r.id FROM ${place} r WHERE ${same}`);
  }
  await owner.raw(`UPDATE ${staging} SET "action#" = CASE WHEN "record#" IS NULL THEN ? ELSE ? END`, [
    plan.missing,
    plan.found,
  ]);
  const uniques = [
    ...table.fields
      .filter((field) => field.unique && given.has(field.id))
      .map((field) => ({ fields: [field.id], message: '' })),
    ...table.constraints
      .filter((one) => one.kind === 'unique')
      .filter((one) => one.fields.every((field) => given.has(field))),
  ];
  for (const { fields, message } of uniques) {
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
        `s."action#" <> 'skip' AND EXISTS (SELECT FROM ${place} r WHERE ${fields.map((field) => `r.${quoted(field)} = s.${quoted(field)}`).join(' AND ')} AND r.id IS DISTINCT FROM s."record#")`,
        at,
        message || `Another record already has this ${labels}. It must be different in each record.`,
      );
  }
  for (const one of table.constraints) {
    if (one.kind !== 'noOverlap' || ![...one.same, one.from, one.to].every((field) => given.has(field))) continue;
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

async function countActions(owner: Database, id: number, rows: number, bad: number): Promise<ImportCounts> {
  const { rows: found } = await owner.raw<{ rows: { action: string; n: number }[] }>(
    `SELECT "action#" AS action, count(*) AS n FROM ${stagingOf(id)} GROUP BY 1`,
  );
  const of = (action: string): number => found.find((one) => one.action === action)?.n ?? 0;
  return { rows, add: of('add'), change: of('change'), skip: of('skip'), bad };
}
