import { pathsOf } from '@fiche/core/conditions';
import { rootOf } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import {
  constraintFields,
  type FieldDefinition,
  type FieldId,
  findField,
  labelTaken,
  linkedTable,
  type TableDefinition,
  type TableId,
  type Tables,
  targetTable,
  titleNames,
} from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { enforceCombinations } from './enforceCombinations.ts';
import { checkLiveForms } from './liveForms.ts';
import { canBeNarrowed } from './narrowing.ts';
import { lockTable, refuseIf, tableNow } from './store.ts';
import { viewsReading } from './viewsReading.ts';

/** Takes a field out of use. Its column, its values and its history stay. Refused while something is built on it. */
export async function retireField(owner: Transaction, tableId: TableId, fieldId: FieldId): Promise<TableDefinition> {
  const { table, all, forms } = await lockTable(owner, tableId);
  const field = findField(table, fieldId);
  if (!field) throw notFound(say('This field'));
  const without = { ...table, fields: table.fields.filter((one) => one !== field) };
  const uses = [
    ...(await viewsReading(owner, all, without)),
    ...(table.title !== null && titleNames(table.title).includes(fieldId) ? [say('the title of the table')] : []),
    ...table.constraints.filter((one) => constraintFields(one).includes(fieldId)).map(() => say('a rule of the table')),
    ...table.rules
      .filter((rule) => rule.at === fieldId || JSON.stringify(rule.must).includes(`"path":"${fieldId}`))
      .map((rule) => say('the rule “{message}”', { message: rule.message })),
    ...table.fields
      .filter(
        (one) => one.narrowing !== null && pathsOf(one.narrowing, 'form').some((path) => rootOf(path) === fieldId),
      )
      .map((one) => say('what {label} is narrowed by', { label: one.label })),
    ...[...all.values()].flatMap((one) =>
      one.fields
        .filter((other) => narrowedByColumn(all, other, table, fieldId))
        .map((other) => say('what {field} of {table} is narrowed by', { field: other.label, table: one.label })),
    ),
    ...[...all.values()]
      .filter((one) =>
        one.fields.some(({ settings }) => {
          const level = settings.level as { table: TableId; column: string } | undefined;
          return level?.table === tableId && level.column === fieldId;
        }),
      )
      .map((one) => say('a field of {label}, as a level of this list', { label: one.label })),
  ];
  if (uses.length > 0)
    throw new Refusal(
      409,
      say('{label} is used by {list}. Remove it there first.', {
        label: field.label,
        list: [...new Set(uses)].join(', '),
      }),
    );
  checkLiveForms(all, forms, without);
  if (field.required) await owner.raw(`ALTER TABLE ${relation(tableId)} ALTER COLUMN ${quoted(fieldId)} DROP NOT NULL`);
  await owner.raw('UPDATE fiche.field SET retired_at = fiche.moment() WHERE table_id = ? AND id = ?', [
    tableId,
    fieldId,
  ]);
  if (table.kind === 'list') await enforceCombinations(owner, tableId);
  return tableNow(owner, tableId);
}

/** Brings a field back, with the values it had. It comes back not required where records have been added without it. */
export async function returnField(owner: Transaction, tableId: TableId, fieldId: FieldId): Promise<TableDefinition> {
  const { table, all, forms } = await lockTable(owner, tableId);
  const field = table.retired.find((one) => one.id === fieldId);
  if (!field) throw notFound(say('This field'));
  refuseIf(
    labelTaken(
      field.label,
      table.fields.map((one) => one.label),
      'label',
    ),
  );
  const { rows } = await owner.raw<{ rows: unknown[] }>(
    `SELECT 1 FROM ${relation(tableId)} WHERE ${quoted(fieldId)} IS NULL LIMIT 1`,
  );
  const required = field.required && rows.length === 0;
  if (required) await owner.raw(`ALTER TABLE ${relation(tableId)} ALTER COLUMN ${quoted(fieldId)} SET NOT NULL`);
  await owner('fiche.field')
    .where({ table_id: tableId, id: fieldId })
    .update({
      retired_at: null,
      required,
      position: table.fields.length,
      // What it was narrowed by may have gone meanwhile.
      ...(canBeNarrowed(all, forms, table, field) ? {} : { narrowing: null }),
    });
  if (table.kind === 'list') await enforceCombinations(owner, tableId);
  return tableNow(owner, tableId);
}

/** Whether a link's own narrowing reads a field of `table`, at any step of a path. */
function narrowedByColumn(all: Tables, link: FieldDefinition, table: TableDefinition, fieldId: FieldId): boolean {
  const steps = (path: string, at: string | undefined): boolean => {
    const [first = '', ...rest] = path.split('.');
    if (at === table.id && first === fieldId) return true;
    return rest.length > 0 && steps(rest.join('.'), linkedTable(findField(all.get(at ?? ''), first)));
  };
  return link.narrowing !== null && pathsOf(link.narrowing, 'column').some((path) => steps(path, targetTable(link)));
}
