import type { FieldLevel } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import { type FieldDefinition, findField, type TableDefinition, type Tables } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { loadDefinitions, withinCabinet } from '../definitions/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';
import type { Worker } from '../tasks/index.ts';
import { changeFieldType, checkTypeChange } from './changeType.ts';
import { matchLevels } from './matchLevels.ts';
import { previewType } from './trial.ts';

/** Values of a field that are looked at, from its latest records; more tell nothing new about where they come from. */
const LATEST = 2_000;
const WORDS = 60;

/** Which fields of a table hold the words of an option list’s levels: all levels of a list together, or none of it. */
export async function fieldLevels(app: Database, tables: Tables, table: TableDefinition): Promise<FieldLevel[]> {
  const free = table.fields.filter(
    (field) => ['text', 'choice'].includes(field.type) && field.settings.level === undefined,
  );
  const columns: { name: string; cells: string[] }[] = [];
  for (const field of free) {
    const column = quoted(field.id);
    const { rows } = await app.raw<{ rows: { word: string }[] }>(
      `SELECT DISTINCT word FROM (SELECT ${column} AS word FROM ${relation(table.id)} WHERE ${column} IS NOT NULL ORDER BY id DESC LIMIT ${LATEST}) latest LIMIT ${WORDS}`,
    );
    columns.push({ name: field.label, cells: rows.map((row) => row.word) });
  }
  const matched = await matchLevels(app, tables, table.cabinet, columns);
  return matched.flatMap(({ name, table: list, column }) => {
    const field = free.find((one) => one.label === name);
    return field ? [{ field: field.id, table: list, column }] : [];
  });
}

const planOf = ({ field, table, column }: FieldLevel) => ({
  field,
  type: 'choice',
  settings: { choices: [], level: { table, column } },
  unconverted: 'refuse' as const,
});

/** The field as a choice from a level of an option list. */
export const withLevel = (field: FieldDefinition, { table, column }: FieldLevel): FieldDefinition => ({
  ...field,
  type: 'choice',
  settings: { choices: [], level: { table, column } },
});

/** Refuses levels that these fields could never take. */
export function checkLevels(tables: Tables, table: TableDefinition, levels: readonly FieldLevel[]): void {
  for (const level of levels) {
    const list = tables.get(level.table);
    if (list?.kind !== 'list' || list.cabinet !== table.cabinet || !findField(list, level.column))
      throw unacceptable([
        { path: 'levels', rule: 'level', message: say('There is no such level of an option list.') },
      ]);
    checkTypeChange(table, planOf(level));
  }
}

/** Turns several fields into choices from the levels of option lists: all their values convert, or nothing is changed. */
export const takeLevels: Worker = async (work) => {
  const { levels } = work.plan as { levels: readonly FieldLevel[] };
  const { owner } = work.databases;
  const { tables } = withinCabinet(await loadDefinitions(owner), work.cabinet);
  const table = tables.get(work.table ?? '');
  for (const level of levels) {
    const { fails, failing } = await previewType(owner, tables, work.table ?? '', level.field, planOf(level));
    if (fails === 0) continue;
    const label = findField(table, level.field)?.label ?? level.field;
    throw new Refusal(
      422,
      sayCount(
        fails,
        '{count} value of {label} is not in the option list, the first in record #{id}. Correct them or add them to the list; or change the type of {label} by itself, where they can be blanked.',
        '{count} values of {label} are not in the option list, the first in record #{id}. Correct them or add them to the list; or change the type of {label} by itself, where they can be blanked.',
        { label, id: failing[0]?.id ?? '' },
      ),
    );
  }
  for (const level of levels) await changeFieldType({ ...work, plan: planOf(level) });
  return { fields: levels.map((one) => one.field) };
};
