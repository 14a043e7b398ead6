import type { WhyView } from '@fiche/core/api';
import {
  all,
  type Condition,
  describeCondition,
  EVERYTHING,
  type Group,
  type Names,
  type Operand,
  operandsOf,
  pathsOf,
} from '@fiche/core/conditions';
import { narrowedBy, type Readable, readOperand, scopeOf } from '@fiche/core/entry';
import { isBlank } from '@fiche/core/fields';
import { namesOf, type PreparedField, type PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { explainNarrowing, type Narrowed } from '@fiche/core/narrowing';
import { conditionToSql, quoted, recordsOf } from '@fiche/core/queries';
import { fieldAtPath, findField, linkedTable, type TableId, type Tables, typeOf } from '@fiche/core/tables';
import { ask, type Database, type Transaction } from '../database/index.ts';
import { notFound } from '../http/index.ts';
import { showTitle, titleSql } from '../records/index.ts';

/** Choices are counted no further than this: more than anybody reads. */
const MOST = 100_000;

/**
 * Why a dropdown offers what it offers: its conditions one after another, what they used, and how many of the records
 * that `seen` has each left.
 */
export async function explainChoices(
  database: Database | Transaction,
  seen: Tables,
  entry: Readable,
  dropdown: PreparedField,
): Promise<WhyView> {
  const { form } = entry;
  const { tables } = form;
  const { source } = dropdown;
  const table = tables.get(source?.table ?? '');
  if (!source || !table || !seen.has(table.id)) throw notFound(say('This dropdown'));
  const labels = new Map([...form.fields.values()].map((field) => [field.id, field.label]));
  const names = namesOf({
    tables,
    table: form.table.id,
    choices: table.id,
    labels,
    sides: true,
    enclosing: form.enclosure?.table.id,
  });
  const own = explainNarrowing(table.id, dropdown.narrowing.where, scopeOf(entry)).map((one) => ({
    ...one,
    words: isSeen(seen, form, table.id, one.condition)
      ? describeCondition(one.condition, names)
      : say('a condition on what your role does not see'),
  }));
  const steps = dropdown.within
    ? [
        ...own,
        stepOfView(entry, dropdown, dropdown.within, isSeen(seen, form, table.id, dropdown.within) ? names : undefined),
      ]
    : own;
  const what = source.column === undefined ? '1' : `DISTINCT c.${quoted(source.column)}`;
  const there = source.column === undefined ? '' : ` AND c.${quoted(source.column)} IS NOT NULL`;
  const counts = [
    EVERYTHING,
    ...steps.map((_step, at) => all(...steps.slice(0, at + 1).map((one) => one.resolved))),
  ].map((condition) => {
    const where = conditionToSql(tables, table.id, 'c', condition);
    return {
      text: `(SELECT count(*) FROM (SELECT ${what} FROM ${recordsOf(seen, table.id)} c WHERE c.archived_at IS NULL${there} AND ${where.text} LIMIT ${MOST}) n)`,
      values: where.values,
    };
  });
  const [row] = await ask<{ left: number[] }>(
    database,
    `SELECT json_build_array(${counts.map((one) => one.text).join(', ')}) AS left`,
    counts.flatMap((one) => one.values),
  );
  const left = row?.left ?? [];
  return {
    of:
      source.column === undefined
        ? table.label
        : say('{field} of {table}', {
            field: findField(table, source.column)?.label ?? source.column,
            table: table.label,
          }),
    all: left[0] ?? 0,
    most: MOST,
    steps: await Promise.all(
      steps.map(async ({ condition, state, words }, at) => ({
        words,
        state,
        used: await Promise.all(
          operandsOf(condition)
            .filter((one) => one.kind === 'form' || one.kind === 'enclosing')
            .map(async (one) => ({ label: names.nameOf(one), value: await shown(database, seen, entry, one) })),
        ),
        left: left[at + 1] ?? 0,
      })),
    ),
  };
}

/** Whether whoever sees these tables sees all that a condition on choices reads of the choices and of the form. */
function isSeen(seen: Tables, { tables, table }: PreparedForm, choices: TableId, condition: Condition): boolean {
  const hidden = (of: TableId, path: string): boolean =>
    fieldAtPath(tables, of, path) !== undefined && fieldAtPath(seen, of, path) === undefined;
  return !(
    pathsOf(condition, 'column').some((path) => hidden(choices, path)) ||
    pathsOf(condition, 'form').some((path) => hidden(table.id, path))
  );
}

/** What the view that feeds a dropdown leaves of its choices, as the last condition on them; without names it is not said what it reads. */
function stepOfView(
  entry: Readable,
  dropdown: PreparedField,
  filter: Group,
  names: Names | undefined,
): Narrowed & { words: string } {
  const words = names ? describeCondition(filter, names) : '';
  const gone = filter.match === 'any' && filter.of.length === 0;
  return {
    condition: filter,
    resolved: narrowedBy(entry, dropdown.id),
    state: 'counts',
    words: gone
      ? say('the view that says what is offered is not there any more')
      : words === ''
        ? say('the view that says what is offered finds it')
        : say('the view that says what is offered finds it: {words}', { words }),
  };
}

/** A value of the form, or of the record around a line, in words; a link by the title of its record. */
async function shown(
  database: Database | Transaction,
  tables: Tables,
  entry: Readable,
  operand: Extract<Operand, { kind: 'form' | 'enclosing' }>,
): Promise<string> {
  const { table, enclosure } = entry.form;
  const value = readOperand(entry, operand);
  const from = operand.kind === 'enclosing' ? enclosure?.table : table;
  const field = from && fieldAtPath(tables, from.id, operand.path);
  if (isBlank(value) || !field) return '';
  const target = tables.get(linkedTable(field) ?? '');
  if (!target) return typeOf(field).format(value, field.settings);
  const [row] = await ask<{ title: unknown }>(
    database,
    `SELECT ${titleSql(tables, target, 't')} AS title FROM ${recordsOf(tables, target.id)} t WHERE t.id = ?`,
    [Number(value)],
  );
  return row ? showTitle(tables, target, row.title) : '';
}
