import { type FreeLanes, MOST_FREE } from '@fiche/core/api';
import type { LaneSettings } from '@fiche/core/calendar';
import { pathsOf } from '@fiche/core/conditions';
import { linksOne } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { conditionToSql, quoted, recordsOf } from '@fiche/core/queries';
import { resolveRight } from '@fiche/core/rights';
import { findField, type TableDefinition, type Tables, targetTable } from '@fiche/core/tables';
import { columnAt } from '@fiche/core/views';
import type { Database } from '../database/index.ts';
import { unacceptable } from '../http/index.ts';
import { showTitle, titleSql } from '../records/index.ts';
import type { Reader } from '../views/index.ts';

/** A time for which free lanes are looked for, and among which. */
type FreeQuestion = Pick<LaneSettings, 'start' | 'end' | 'lane' | 'where'> & {
  readonly from: string;
  readonly to: string;
};

/**
 * The records of a linked table to which, of the records of `table` that the reader sees, none links whose period overlaps a time;
 * archived ones do not count. A period ends before its last moment, as for the rule against overlaps. Throws 422 at what cannot be read.
 */
export async function freeLanes(
  database: Database,
  tables: Tables,
  table: TableDefinition,
  question: FreeQuestion,
  { asking }: Reader,
): Promise<FreeLanes> {
  const { from, to, where } = question;
  const lanes = lanesOf(tables, table, question);
  const own = conditionToSql(tables, lanes.id, 'l', resolveRight(where, asking));
  const [lane, start] = [quoted(question.lane), quoted(question.start)];
  const end = question.end === null ? undefined : quoted(question.end);
  // What ends before it begins is taken the other way round; a blank end lasts on.
  const overlaps = end
    ? `least(r.${start}, r.${end}) < ? AND (r.${end} IS NULL OR greatest(r.${start}, r.${end}) > ?)`
    : `r.${start} < ? AND r.${start} >= ?`;
  const free = `FROM ${recordsOf(tables, lanes.id)} l WHERE l.archived_at IS NULL AND ${own.text} AND NOT EXISTS (
    SELECT FROM ${recordsOf(tables, table.id)} r WHERE r.${lane} = l.id AND r.archived_at IS NULL AND ${overlaps})`;
  const values = [...(own.values as (string | number)[]), to, from];
  const title = titleSql(tables, lanes, 'l');
  const { rows } = await database.raw<{ rows: { id: string; title: unknown; total: string }[] }>(
    `SELECT l.id, ${title} AS title, count(*) OVER () AS total ${free} ORDER BY (${title})::text COLLATE fiche.natural, l.id LIMIT ?`,
    [...values, MOST_FREE],
  );
  return {
    lanes: rows.map((row) => ({ id: Number(row.id), title: showTitle(tables, lanes, row.title) })),
    total: Number(rows[0]?.total ?? 0),
  };
}

/** The table of the lanes. Throws 422 where the fields are not there, do not fit, or the time ends before it begins. */
function lanesOf(
  tables: Tables,
  table: TableDefinition,
  { from, to, lane, start, end, where }: FreeQuestion,
): TableDefinition {
  const refuse = (path: string, message: string): Error => unacceptable([{ path, rule: 'field', message }]);
  if (from >= to) throw refuse('to', say('This is not after the beginning. Choose a later end.'));
  const link = findField(table, lane);
  const lanes = tables.get(targetTable(link) ?? '');
  if (!lanes || !linksOne(link))
    throw refuse(
      'lane',
      say('{lane} does not link {label} to one record. Choose a link.', { lane, label: table.label }),
    );
  for (const [at, id] of [
    ['start', start],
    ['end', end],
  ] as const)
    if (id !== null && !findField(table, id))
      throw refuse(at, say('{id} is not a field of {label}. Choose another one.', { id, label: table.label }));
  const gone = pathsOf(where, 'column').find((path) => !columnAt(tables, lanes.id, path));
  if (gone !== undefined)
    throw refuse(
      'where',
      say('{gone} is not a field of {label}. Change or remove its condition.', { gone, label: lanes.label }),
    );
  return lanes;
}
