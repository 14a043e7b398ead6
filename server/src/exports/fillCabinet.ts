import { type CabinetFile, cabinetFileSchema, renameTables } from '@fiche/core/exports';
import { holdsFiles, isNumbered, linksSeveral, namesPeople, readItems } from '@fiche/core/fields';
import { readCell, unguarded } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { quoted, relation } from '@fiche/core/queries';
import { type FieldDefinition, type TableDefinition, type TableId, targetTable, typeOf } from '@fiche/core/tables';
import { parse } from 'csv-parse/sync';
import { strFromU8 } from 'fflate';
import { constraintProblem } from '../constraints/index.ts';
import { type Actor, asActor, type RolePools, type Transaction } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { createForm, publishForm, saveDraft } from '../forms/index.ts';
import { Refusal } from '../http/index.ts';
import {
  addField,
  addFields,
  changeField,
  changeTable,
  createTable,
  enforceCombinations,
  enforceConstraint,
  retireField,
} from '../tables/index.ts';
import { archiveFiles } from '../unpacking/index.ts';
import { nameOf } from './cabinetFile.ts';

/** Records a statement. */
const STEP = 5_000;

interface FilledCabinet {
  readonly tables: number;
  readonly forms: number;
  readonly records: number;
  /** What could not be taken over as it was, and what to do about it. */
  readonly notes: string[];
}

/** Fills an empty cabinet from a cabinet file: all of it, in one transaction, or nothing. */
export async function fillCabinet(
  databases: RolePools,
  cabinet: string,
  actor: Actor,
  bytes: Uint8Array,
): Promise<FilledCabinet> {
  const files = await archiveFiles(bytes, /^(cabinet\.json|data\/[a-z][a-z0-9_]*\.csv)$/);
  const definition = readDefinition(files['cabinet.json']);
  return asActor(databases.owner, actor, async (owner) => {
    const before = await loadDefinitions(owner);
    if ([...before.tables.values()].some((table) => table.cabinet === cabinet))
      throw new Refusal(409, say('This cabinet has tables already. A cabinet file goes into an empty one.'));
    const idOf = (name: string): string => `${cabinet}_${name}`.slice(0, 58);
    const file = renameTables(definition, (name) =>
      definition.tables.some((one) => one.name === name) ? idOf(name) : name,
    );
    const made = await makeTables(owner, cabinet, file, idOf);
    let records = 0;
    // Links wait until all records are there, as two tables can point at each other.
    const ids = new Map<string, number[]>();
    const heads = new Map<string, string[]>();
    const rows = new Map<string, string[][]>();
    for (const table of made) {
      const name = nameOf(table.id, cabinet);
      const csv = files[`data/${name}.csv`];
      const [head = [], ...lines] = csv ? (parse(strFromU8(csv), { relax_column_count: true }) as string[][]) : [];
      heads.set(table.id, head);
      rows.set(table.id, lines);
      ids.set(table.id, await addRecords(owner, table, head, lines));
      records += lines.length;
    }
    for (const table of made) await addLinks(owner, table, heads.get(table.id) ?? [], rows.get(table.id) ?? [], ids);
    for (const table of made)
      await finishTable(owner, table, file, cabinet, rows.get(table.id) ?? [], ids.get(table.id) ?? []);
    const notes = await missingPeople(owner, made, heads, rows);
    notes.push(...(await narrowFields(owner, file, idOf)));
    notes.push(...(await makeForms(owner, cabinet, file, idOf)));
    return { tables: made.length, forms: file.forms.length, records, notes };
  });
}

function readDefinition(bytes: Uint8Array | undefined): CabinetFile {
  const wrong = (why: string) => new Refusal(422, say('This is not a cabinet file: {why}.', { why }));
  if (!bytes) throw wrong(say('it has no cabinet.json'));
  let json: unknown;
  try {
    json = JSON.parse(strFromU8(bytes));
  } catch {
    throw wrong(say('its cabinet.json is not JSON'));
  }
  const read = cabinetFileSchema.safeParse(json);
  if (read.success) return read.data;
  const [issue] = read.error.issues;
  throw wrong(`${issue?.path.join('.')}: ${issue?.message}`);
}

/** The tables with their plain fields; links, which need all tables, after them. Not required yet: records come in parts. */
async function makeTables(
  owner: Transaction,
  cabinet: string,
  file: CabinetFile,
  idOf: (name: string) => string,
): Promise<TableDefinition[]> {
  for (const table of file.tables)
    await createTable(owner, cabinet, table.label, table.description, { kind: table.kind, id: idOf(table.name) });
  const made: TableDefinition[] = [];
  for (const table of file.tables) {
    // Fields out of use have labels that may be taken by now.
    const retired = table.retired.map((field) => ({
      ...field.definition,
      id: field.id,
      label: `${field.definition.label} (archived)`.slice(0, 120),
    }));
    // What narrows a link is set once all tables are there.
    const fields = [...table.fields.map((field) => ({ ...field.definition, id: field.id })), ...retired].map(
      (field) => ({
        ...field,
        narrowing: null,
      }),
    );
    const several = fields.filter((field) => linksSeveral(field));
    let now = await addFields(
      owner,
      idOf(table.name),
      fields.filter((field) => !linksSeveral(field)),
      { held: false },
    );
    for (const { id, ...field } of several) now = await addField(owner, now.id, field, { id });
    await owner.raw(
      `UPDATE fiche.field f SET position = o.n - 1 FROM unnest(?::text[]) WITH ORDINALITY AS o(id, n) WHERE f.table_id = ? AND f.id = o.id`,
      [fields.map((field) => field.id), now.id],
    );
    made.push({ ...now, title: table.title });
  }
  return made;
}

/** How many records name people who have no account here, by field: they were left blank. */
async function missingPeople(
  owner: Transaction,
  made: readonly TableDefinition[],
  heads: ReadonlyMap<string, string[]>,
  rows: ReadonlyMap<string, string[][]>,
): Promise<string[]> {
  const notes: string[] = [];
  for (const table of made)
    for (const field of table.fields.filter((one) => namesPeople(one))) {
      const at = heads.get(table.id)?.indexOf(field.id) ?? -1;
      const named = (rows.get(table.id) ?? []).filter((line) => (line[at] ?? '') !== '').length;
      const { rows: kept } = await owner.raw<{ rows: { n: number }[] }>(
        `SELECT count(*) AS n FROM ${relation(table.id)} WHERE ${quoted(field.id)} IS NOT NULL`,
      );
      const blank = named - (kept[0]?.n ?? 0);
      if (blank > 0)
        notes.push(
          say('{blank} records of {table} name somebody in {field} who has no account here: it is blank.', {
            blank: formatCount(blank),
            table: table.label,
            field: field.label,
          }),
        );
    }
  return notes;
}

/** Sets what the tables' links are narrowed by; tells of those that do not work here. */
async function narrowFields(owner: Transaction, file: CabinetFile, idOf: (name: string) => string): Promise<string[]> {
  const notes: string[] = [];
  for (const table of file.tables)
    for (const { id, definition } of table.fields) {
      if (definition.narrowing === null) continue;
      try {
        await changeField(owner, idOf(table.name), id, { narrowing: definition.narrowing });
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        notes.push(
          say('{field} of {table} is not narrowed here: {message}', {
            field: definition.label,
            table: table.label,
            message: error.message,
          }),
        );
      }
    }
  return notes;
}

const HOW = { dates: 'dayFirst', decimal: '.' } as const;

/** Adds a table's records without their links; gives their ids, in order. */
async function addRecords(
  owner: Transaction,
  table: TableDefinition,
  head: readonly string[],
  lines: readonly string[][],
): Promise<number[]> {
  if (lines.length === 0) return [];
  const fields = table.fields.filter((field) => targetTable(field) === undefined && head.includes(field.id));
  const rows = lines.map((line, n) =>
    fields.map((field) => {
      const cell = line[head.indexOf(field.id)] ?? '';
      // Text is taken as it stood; what a person would type otherwise is not this file's business.
      const read =
        typeOf(field).family === 'text'
          ? typeOf(field).accept(unguarded(cell) || null, field.settings)
          : readCell(field, cell, HOW);
      if (!read.ok)
        throw new Refusal(
          422,
          say('{label}, record {n}, {other}: {message}', {
            label: table.label,
            n: n + 1,
            other: field.label,
            message: read.message,
          }),
        );
      return read.value;
    }),
  );
  const columns = fields.map((field) => quoted(field.id));
  const values = fields.map((field, at) => {
    const type = typeOf(field).column(field.settings);
    // An account that is not here is left blank: people belong to an installation.
    if (namesPeople(field)) return `(SELECT login FROM fiche.account WHERE login = j->>${at})`;
    return type.endsWith('[]')
      ? `CASE WHEN jsonb_typeof(j->${at}) = 'array' THEN ARRAY(SELECT jsonb_array_elements_text(j->${at}))::${type} END`
      : `(j->>${at})::${type}`;
  });
  const list = columns.length === 0 ? ['archived_at'] : columns;
  const ids: number[] = [];
  for (let from = 0; from < rows.length; from += STEP) {
    const { rows: made } = await owner.raw<{ rows: { id: number }[] }>(
      `INSERT INTO ${relation(table.id)} (${list.join(', ')}) SELECT ${values.length === 0 ? 'NULL' : values.join(', ')} FROM jsonb_array_elements(?::jsonb) WITH ORDINALITY AS t(j, n) ORDER BY n RETURNING id`,
      [JSON.stringify(rows.slice(from, from + STEP))],
    );
    for (const { id } of made) ids.push(id);
  }
  return ids;
}

/** Sets the links of a table's records, from numbers in the file to the records that they now are. */
async function addLinks(
  owner: Transaction,
  table: TableDefinition,
  head: readonly string[],
  lines: readonly string[][],
  ids: ReadonlyMap<string, number[]>,
): Promise<void> {
  for (const field of table.fields) {
    const target = targetTable(field);
    if (target === undefined || lines.length === 0) continue;
    const known = ids.get(target) ?? [];
    const at = head.indexOf(field.id);
    const links = lines.map((line, n) => {
      const found = readItems(line[at] ?? '').map((number) => known[Number(number) - 1]);
      if (found.includes(undefined))
        throw new Refusal(
          422,
          say('{label}, record {n}, {other}: it links to a record that is not in the file.', {
            label: table.label,
            n: n + 1,
            other: field.label,
          }),
        );
      return found.length === 0 ? null : linksSeveral(field) ? `{${found.join(',')}}` : String(found[0]);
    });
    const type = typeOf(field).column(field.settings);
    await owner.raw(
      `UPDATE ${relation(table.id)} r SET ${quoted(field.id)} = v.link::${type} FROM unnest(?::bigint[], ?::text[]) AS v(id, link) WHERE r.id = v.id AND v.link IS NOT NULL`,
      [ids.get(table.id) ?? [], links as string[]],
    );
  }
}

/** What waits until the records are whole: required, titles, rules, archived records, fields out of use, counters. */
async function finishTable(
  owner: Transaction,
  table: TableDefinition,
  file: CabinetFile,
  cabinet: string,
  lines: readonly string[][],
  ids: readonly number[],
): Promise<void> {
  const plan = file.tables.find((one) => one.name === nameOf(table.id, cabinet));
  if (!plan) return;
  const gone = ids.filter((_id, n) => lines[n]?.[1] === 'yes');
  if (gone.length > 0)
    await owner.raw(`UPDATE ${relation(table.id)} SET archived_at = now() WHERE id = ANY(?)`, [gone]);
  for (const field of plan.fields)
    if (holdsFiles(field.definition) || namesPeople(field.definition))
      // A cabinet file holds no files and no people: what needs one cannot be imported.
      await owner('fiche.field').where({ table_id: table.id, id: field.id }).update({ required: false });
    else if (field.definition.required && typeOf({ ...field.definition, id: field.id }).editable)
      await owner.raw(`ALTER TABLE ${relation(table.id)} ALTER COLUMN ${quoted(field.id)} SET NOT NULL`);
  for (const field of [...plan.fields, ...plan.retired])
    if (isNumbered(field.definition)) await raiseCounters(owner, table.id, { ...field.definition, id: field.id });
  await owner('fiche.table').where({ id: table.id }).update({ title: plan.title });
  try {
    for (const constraint of plan.constraints) await enforceConstraint(owner, table.id, constraint);
  } catch (error) {
    throw constraintProblem(table, error) ?? error;
  }
  if (plan.rules.length > 0) await changeTable(owner, table.id, { rules: plan.rules });
  if (plan.card.length > 0) await changeTable(owner, table.id, { card: plan.card });
  for (const field of plan.retired) {
    await retireField(owner, table.id, field.id);
    await owner('fiche.field').where({ table_id: table.id, id: field.id }).update({ label: field.definition.label });
  }
  if (table.kind === 'list') await enforceCombinations(owner, table.id);
  if (plan.ripples.length > 0) await changeTable(owner, table.id, { ripples: plan.ripples });
}

/** Brings a sequence number's counters past the numbers that came with the records. */
async function raiseCounters(owner: Transaction, table: TableId, field: FieldDefinition): Promise<void> {
  const { prefix, withYear } = field.settings as { prefix: string; withYear: boolean };
  const { rows } = await owner.raw<{ rows: { year: string; highest: number }[] }>(
    `SELECT ${withYear ? 'substr(rest, 1, 4)' : "''"} AS year, max((${withYear ? 'substr(rest, 6)' : 'rest'})::bigint) AS highest
     FROM (SELECT substr(${quoted(field.id)}, ?) AS rest FROM ${relation(table)} WHERE ${quoted(field.id)} IS NOT NULL) s
     WHERE rest ~ ${withYear ? "'^\\d{4}-\\d+$'" : "'^\\d+$'"} GROUP BY 1`,
    [prefix.length + 1],
  );
  for (const { year, highest } of rows) {
    const counter = `${`${table}_${field.id}`.slice(0, 50)}${withYear ? `_${year}` : ''}`;
    await owner.raw(`CREATE SEQUENCE IF NOT EXISTS fiche.${quoted(counter)} MINVALUE 0`);
    await owner.raw('SELECT setval(?, ?)', [`fiche.${quoted(counter)}`, highest]);
  }
}

async function makeForms(
  owner: Transaction,
  cabinet: string,
  file: CabinetFile,
  idOf: (name: string) => string,
): Promise<string[]> {
  const notes: string[] = [];
  for (const form of file.forms) {
    const row = await createForm(owner, cabinet, form.draft.table, form.draft.label, idOf(form.name));
    let revision = row.draftRevision;
    if (form.live) {
      const saved = await saveDraft(owner, row.id, form.live, revision);
      revision = saved.revision;
      const problem = saved.findings.find((one) => one.weight === 'must');
      if (problem)
        notes.push(
          say('{label} is not published here: {message}', { label: form.draft.label, message: problem.message }),
        );
      else revision = (await publishForm(owner, row.id, revision)).revision;
    }
    if (JSON.stringify(form.draft) !== JSON.stringify(form.live)) await saveDraft(owner, row.id, form.draft, revision);
  }
  return notes;
}
