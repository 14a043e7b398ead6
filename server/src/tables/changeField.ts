import type { Group } from '@fiche/core/conditions';
import { readExpression, resultMisfit } from '@fiche/core/expressions';
import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import {
  type FieldDefinition,
  type FieldId,
  findField,
  type Initial,
  labelTaken,
  type TableDefinition,
  type TableId,
  type Tables,
} from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { refuseForeignTables } from '../definitions/index.ts';
import { notFound, unacceptable } from '../http/index.ts';
import { checkInitial } from './addField.ts';
import { checkNarrowing } from './narrowing.ts';
import { readSettings } from './readSettings.ts';
import { lockTable, refuseIf, tableNow } from './store.ts';

export interface FieldChange {
  readonly label?: string;
  readonly help?: string;
  readonly required?: boolean;
  readonly unique?: boolean;
  readonly settings?: Readonly<Record<string, unknown>>;
  readonly initial?: Initial | null;
  readonly calculation?: string | null;
  readonly narrowing?: Group | null;
  readonly position?: number;
  readonly revision?: number;
}

/**
 * Changes a field; its column and type stay. Switching `required` or `unique` on is the work of `hold`; off is done
 * here. As the owner, in a transaction.
 */
export async function changeField(
  owner: Transaction,
  tableId: TableId,
  fieldId: FieldId,
  change: FieldChange,
): Promise<TableDefinition> {
  const { table, all, forms } = await lockTable(owner, tableId, change.revision);
  const field = findField(table, fieldId);
  if (!field) throw notFound(say('This field'));
  const others = table.fields.filter((one) => one.id !== fieldId);
  if (change.label !== undefined)
    refuseIf(
      labelTaken(
        change.label,
        others.map((one) => one.label),
        'label',
      ),
    );
  const { position, settings, initial, narrowing, revision, ...plain } = change;
  const columns: Record<string, unknown> = { ...plain };
  if (settings !== undefined) columns.settings = JSON.stringify(changedSettings(all, field, settings));
  if (initial !== undefined) {
    checkInitial({ ...field, initial }, 'initial');
    checkExpression(table, field, initial?.kind === 'calculation' ? initial.source : null, all);
    columns.initial = initial === null ? null : JSON.stringify(initial);
  }
  if (change.calculation !== undefined) checkExpression(table, field, change.calculation, all);
  if (narrowing !== undefined) {
    checkNarrowing(all, forms, table, { ...field, narrowing });
    columns.narrowing = narrowing === null ? null : JSON.stringify(narrowing);
  }
  if (change.required === false && field.required)
    await owner.raw(`ALTER TABLE ${relation(tableId)} ALTER COLUMN ${quoted(fieldId)} DROP NOT NULL`);
  if (change.unique === false && field.unique) {
    const { rows } = await owner.raw<{ rows: { name: string }[] }>(
      `SELECT i.indexrelid::regclass::text AS name FROM pg_index i WHERE i.indrelid = ?::regclass AND i.indisunique AND NOT i.indisprimary
         AND i.indnkeyatts = 1 AND i.indkey[0] = (SELECT attnum FROM pg_attribute WHERE attrelid = i.indrelid AND attname = ?)`,
      [relation(tableId), fieldId],
    );
    for (const { name } of rows) await owner.raw(`DROP INDEX ${name}`);
  }
  if (Object.keys(columns).length > 0)
    await owner('fiche.field').where({ table_id: tableId, id: fieldId }).update(columns);
  if (position !== undefined)
    await moveField(
      owner,
      tableId,
      others.map((one) => one.id),
      fieldId,
      position,
    );
  return tableNow(owner, tableId);
}

/** What a column was made with: changed by giving the field its type anew. */
const FIXED = ['table', 'places', 'currency', 'prefix', 'withYear', 'width', 'first', 'pairs', 'circles'];

function changedSettings(all: Tables, field: FieldDefinition, settings: Readonly<Record<string, unknown>>): unknown {
  const read = readSettings(field.type, settings);
  refuseForeignTables(all, read, 'settings');
  if (FIXED.some((name) => read[name] !== field.settings[name]))
    throw unacceptable([
      {
        path: 'settings',
        rule: 'fixed',
        message: say('What the column was made with is changed with its type: choose “change the type”.'),
      },
    ]);
  return read;
}

/** Refuses a calculation that cannot be read, that gives what the field cannot hold, or that reads its own field. */
function checkExpression(table: TableDefinition, field: FieldDefinition, source: string | null, all: Tables): void {
  if (source === null) return;
  const read = readExpression(source, table.fields, all);
  const wrong =
    'wrong' in read
      ? read.wrong
      : (resultMisfit(read.expression.result, field) ??
        (read.expression.reads.some((path) => path.split('.')[0] === field.id)
          ? say('{label} cannot be calculated from itself.', { label: field.label })
          : undefined));
  if (wrong !== undefined) throw unacceptable([{ path: 'calculation', rule: 'calculation', message: wrong }]);
}

async function moveField(
  owner: Transaction,
  tableId: TableId,
  others: readonly string[],
  fieldId: FieldId,
  position: number,
): Promise<void> {
  const order = [...others.slice(0, position), fieldId, ...others.slice(position)];
  await owner.raw(
    `UPDATE fiche.field f SET position = o.position - 1 FROM unnest(?::text[]) WITH ORDINALITY AS o(id, position)
     WHERE f.table_id = ? AND f.id = o.id AND f.position <> o.position - 1`,
    [order, tableId],
  );
}
