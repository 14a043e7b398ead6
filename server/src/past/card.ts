import type { PastRecord } from '@fiche/core/api';
import { isBlank } from '@fiche/core/fields';
import { subformsOf } from '@fiche/core/forms';
import { describeChanges, linksIn, type TableThen } from '@fiche/core/history';
import { say } from '@fiche/core/languages';
import { quoted, recordsOf, relation } from '@fiche/core/queries';
import { rightToHistory } from '@fiche/core/rights';
import {
  type FieldDefinition,
  fieldAtPath,
  type RecordId,
  type TableDefinition,
  type TableId,
  targetTable,
  typeOf,
} from '@fiche/core/tables';
import { callersLimit, hasRight } from '../access/index.ts';
import { ask, type Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { notFound } from '../http/index.ts';
import { factsSql, findRecordsWhere, readFacts, titlesOf } from '../records/index.ts';
import { type Past, pastOf, requireMade } from './asOf.ts';
import { momentSql } from './moment.ts';
import { STATE } from './source.ts';

/** What is read, for whom, and of which moment. */
interface Reading {
  readonly app: Database;
  readonly definitions: Definitions;
  readonly past: Past;
  readonly moment: string;
}

type Shown = PastRecord['values'];
type State = Readonly<Record<string, unknown>>;

/**
 * A record as it stood at a moment, in words: with the fields of then that the caller sees today, the titles and reference cards
 * of then, and the lines of a form. Null where it was not there yet. Throws 404 for one whose history the caller does not read,
 * or that was erased since.
 */
export async function recordAsOf(
  app: Database,
  definitions: Definitions,
  { table: tableId, id, at, form }: { table: TableId; id: RecordId; at: string; form: string | undefined },
): Promise<{ record: PastRecord | null; since: string }> {
  const table = definitions.tables.get(tableId);
  if (!table) throw notFound(say('This table'));
  const since = await addedAt(app, definitions, table, id);
  const past = await pastOf(app, definitions, at);
  requireMade(past, table);
  const reading: Reading = { app, definitions, past, moment: momentSql(at) };
  const [found] = await findRecordsWhere(app, past.tables, table.id, 'r.id = ?', [id]);
  if (!found) return { record: null, since };
  const then = past.then.get(table.id) as TableThen;
  const states = await statesThen(reading, table.id, [id]);
  const { stamp } = found;
  const record: PastRecord = {
    table: then.label,
    title: found.title,
    version: found.version,
    archived: found.archived,
    created: { at: stamp.createdAt, by: stamp.createdBy },
    changed: { at: stamp.changedAt, by: stamp.changedBy },
    values: (await inWords(reading, table, states)).get(id) ?? [],
    cards: await cardsOf(reading, table, states.get(id) ?? {}),
    lines: await linesThen(reading, table, id, form),
  };
  return { record, since };
}

/** When a record was added, for a caller who may read its history. Throws 404. */
async function addedAt(app: Database, definitions: Definitions, table: TableDefinition, id: RecordId): Promise<string> {
  const limit = callersLimit(definitions, table, 'r', ({ role }) => rightToHistory(role, table)) ?? 'TRUE';
  const { rows } = await app.raw<{ rows: { since: string }[] }>(
    `SELECT to_json(r.created_at)#>>'{}' AS since FROM ${relation(table.id)} r WHERE r.id = ? AND ${limit}`,
    [id],
  );
  if (!rows[0]) throw notFound(say('This record of {label}, or its history,', { label: table.label }));
  return rows[0].since;
}

/** The captured columns of some records as they were at the moment. */
async function statesThen(
  { app, moment }: Reading,
  table: TableId,
  ids: readonly RecordId[],
): Promise<Map<RecordId, State>> {
  const rows = await ask<{ id: number; state: State }>(
    app,
    `SELECT l.record::bigint AS id, ${STATE} AS state FROM ledger.line l
     WHERE l.place = ? AND l.record = ANY(?) AND l.at <= ${moment} GROUP BY l.record`,
    [`data.${table}`, ids.map(String)],
  );
  return new Map(rows.map((row) => [Number(row.id), row.state]));
}

/** The fields of then that the caller sees today. */
function fieldsSeen({ definitions, past }: Reading, table: TableDefinition): readonly FieldDefinition[] {
  const seen = definitions.tables.get(table.id);
  const ids = new Set([...(seen?.fields ?? []), ...(seen?.retired ?? [])].map((field) => field.id));
  return (past.then.get(table.id)?.fields ?? []).filter((field) => ids.has(field.id));
}

const shownValue = (path: string, field: FieldDefinition, value: string): Shown[number] => ({
  field: path,
  label: field.label,
  value,
  numeric: typeOf(field).family === 'number',
});

/** The values of records of a table in words, by the definitions of then; linked records are called as they were then. */
async function inWords(
  reading: Reading,
  table: TableDefinition,
  states: ReadonlyMap<RecordId, State>,
): Promise<Map<RecordId, Shown>> {
  const fields = fieldsSeen(reading, table);
  const wanted = [...states.values()].flatMap((state) => linksIn(fields, state));
  const titles = await titlesOf(reading.app, reading.past.tables, wanted);
  return new Map(
    [...states].map(([id, state]) => {
      const said = new Map(describeChanges(fields, null, state, titles).map((one) => [one.field, one.after]));
      return [id, fields.map((field) => shownValue(field.id, field, said.get(field.id) ?? ''))];
    }),
  );
}

/** What the reference cards of a record’s links showed then: laid out as they are today. */
async function cardsOf(reading: Reading, table: TableDefinition, state: State): Promise<PastRecord['cards']> {
  const { app, past } = reading;
  const cards: PastRecord['cards'] = [];
  for (const link of fieldsSeen(reading, table)) {
    const target = past.tables.get(targetTable(link) ?? '');
    const id = state[link.id];
    const paths = (target?.card ?? []).filter((path) => target && fieldAtPath(past.tables, target.id, path));
    if (!target || typeof id !== 'number' || paths.length === 0) continue;
    const { rows } = await app.raw<{ rows: { facts: Record<string, unknown> }[] }>(
      `SELECT ${factsSql(past.tables, target.id, 'r', paths)} AS facts FROM ${recordsOf(past.tables, target.id)} r WHERE r.id = ?`,
      [id],
    );
    if (!rows[0]) continue;
    const facts = readFacts(past.tables, target.id, rows[0].facts);
    const fieldOf = (path: string) => fieldAtPath(past.tables, target.id, path) as FieldDefinition;
    const linked = paths.flatMap((path) => {
      const of = targetTable(fieldOf(path));
      return of !== undefined && typeof facts[path] === 'number' ? [{ table: of, id: facts[path] }] : [];
    });
    const titles = await titlesOf(app, past.tables, [...linked, { table: target.id, id }]);
    const words = (path: string): string => {
      const [field, value] = [fieldOf(path), facts[path] ?? null];
      if (isBlank(value)) return '';
      const of = targetTable(field);
      return of === undefined ? typeOf(field).format(value, field.settings) : (titles.get(`${of}:${value}`) ?? '');
    };
    cards.push({
      label: link.label,
      title: titles.get(`${target.id}:${id}`) ?? '',
      values: paths.map((path) => shownValue(path, fieldOf(path), words(path))),
    });
  }
  return cards;
}

/** The lines of a record in a form, as they stood then: those that were in use and linked to it. */
async function linesThen(
  reading: Reading,
  table: TableDefinition,
  id: RecordId,
  formId: string | undefined,
): Promise<PastRecord['lines']> {
  const { app, definitions, past } = reading;
  const form = formId === undefined ? undefined : definitions.forms.get(formId);
  const draft = hasRight(definitions, 'build') ? form?.draft : undefined;
  const definition = form?.table === table.id ? (form.live ?? draft) : undefined;
  const lines: PastRecord['lines'] = [];
  for (const { table: of, link, label } of definition ? subformsOf(definition) : []) {
    const lined = definitions.tables.get(of);
    if (!lined || !past.then.has(of)) continue;
    const found = await findRecordsWhere(
      app,
      past.tables,
      of,
      `r.id = ANY(?) AND r.${quoted(link)} = ? AND r.archived_at IS NULL ORDER BY r.id`,
      [await everLinked(reading, of, link, id), id],
    );
    const states = await statesThen(
      reading,
      of,
      found.map((one) => one.id),
    );
    const words = await inWords(reading, lined, states);
    lines.push({
      table: of,
      label: label ?? lined.label,
      rows: found.map((one) => ({
        record: one.id,
        values: (words.get(one.id) ?? []).filter((value) => value.field !== link),
      })),
    });
  }
  return lines;
}

/** The records whose link points at one today, or was moved away from it after the moment. */
async function everLinked({ app, moment }: Reading, table: TableId, link: string, id: RecordId): Promise<RecordId[]> {
  const rows = await ask<{ id: number }>(
    app,
    `SELECT r.id FROM ${relation(table)} r WHERE r.${quoted(link)} = ?
     UNION SELECT l.record::bigint FROM ledger.line l WHERE l.place = ? AND l.at > ${moment} AND l.before->>? = ?`,
    [id, `data.${table}`, link, String(id)],
  );
  return rows.map((row) => Number(row.id));
}
