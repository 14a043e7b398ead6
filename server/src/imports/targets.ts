import type { CellReading, ImportColumn, ImportPlan } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import {
  type FieldDefinition,
  findField,
  isGiven,
  nameFrom,
  type TableDefinition,
  type Tables,
} from '@fiche/core/tables';
import { refuseForeignTables } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';

/** A column of a file that goes somewhere. */
export interface Target {
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
  if (into.kind === 'table' && before?.cabinet !== cabinet) throw notFound(say('This table'));
  for (const field of [...(before?.fields ?? []), ...(before?.retired ?? [])]) taken.add(field.id);
  const targets = plan.columns.flatMap((column): Target[] => {
    const how = { dates: column.dates, decimal: column.decimal };
    if (column.to.kind === 'nowhere') return [];
    if (column.to.kind === 'field') {
      const field = findField(before, column.to.field);
      if (!field || isGiven(field))
        throw new Refusal(
          422,
          say('“{name}” goes to a field that is not there or cannot be written. Choose another.', {
            name: column.name,
          }),
        );
      return [{ column, field, how }];
    }
    if (before)
      throw new Refusal(
        422,
        say('Add the field “{label}” to {other} first, then import the file.', {
          label: column.to.field.label,
          other: before.label,
        }),
      );
    refuseForeignTables(tables, column.to.field.settings, 'plan.columns');
    const id = nameFrom(column.to.field.label, taken, 'field');
    taken.add(id);
    return [{ column, field: { ...column.to.field, id }, how }];
  });
  const twice = targets.find((one, at) => targets.findIndex((other) => other.field.id === one.field.id) !== at);
  if (twice)
    throw new Refusal(422, say('Two columns go to {label}. Let one of them go nowhere.', { label: twice.field.label }));
  const labels = targets.flatMap(({ column }) => (column.to.kind === 'new' ? [column.to.field.label] : []));
  const doubled = labels.find(
    (one, at) => labels.findIndex((other) => other.toLowerCase() === one.toLowerCase()) !== at,
  );
  if (doubled !== undefined)
    throw new Refusal(
      422,
      say('Two columns become a new field “{doubled}”. Give one of them another label, or let it go nowhere.', {
        doubled,
      }),
    );
  if (targets.length === 0)
    throw new Refusal(422, say('No column goes anywhere yet. Choose a field for at least one.'));
  const lost = plan.key.find((key) => !targets.some((one) => one.field.id === key));
  if (before && lost !== undefined)
    throw new Refusal(
      422,
      say('Rows find their records by {label}, and no column goes there.', {
        label: findField(before, lost)?.label ?? lost,
      }),
    );
  const table: TableDefinition = before ?? {
    id: `${cabinet}_new`,
    cabinet,
    label: into.kind === 'new' ? into.label : '',
    description: '',
    kind: 'records',
    title: null,
    fields: targets.map((one) => one.field),
    retired: [],
    card: [],
    rules: [],
    constraints: [],
    revision: 1,
  };
  return { table, targets };
}
