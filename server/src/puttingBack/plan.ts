import type { RecordView } from '@fiche/core/api';
import { sameValue, type Value, type Values } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { type FieldId, findField, type TableDefinition, typeOf } from '@fiche/core/tables';
import type { SavedRecord } from './lines.ts';

/** What becomes of a record when a save is put back, or why it stays as it is. */
export type Back =
  | { readonly becomes: 'changed'; readonly values: Values }
  | { readonly becomes: 'archived' | 'restored' | 'same' }
  | { readonly stays: string };

const stored = (table: TableDefinition, id: FieldId, json: unknown): Value => {
  const field = findField(table, id);
  return json === null || json === undefined || !field ? null : typeOf(field).stored(json);
};

/**
 * What putting back makes of one record as it is now. A record that was added goes out of use, one that was changed gets the
 * values of before, where nobody has changed them since; `form` is that of its table, as the caller has it.
 */
export function backOf(
  saved: SavedRecord,
  record: RecordView | undefined,
  form: PreparedForm,
  seen: TableDefinition,
): Back {
  if (!record || saved.kind === 'erase') return { stays: say('It was erased: what is erased cannot be put back.') };
  const by = record.stamp.changedBy;
  if (saved.kind === 'add') {
    if (record.archived) return { becomes: 'same' };
    return record.version === saved.version
      ? { becomes: 'archived' }
      : {
          stays: say('{by} has changed it since it was added. It stays in use: archive it by itself if it has to go.', {
            by,
          }),
        };
  }
  if (saved.kind === 'archive') return record.archived ? { becomes: 'restored' } : { becomes: 'same' };
  if (saved.kind === 'restore') return record.archived ? { becomes: 'same' } : { becomes: 'archived' };
  if (record.archived) return { stays: say('It has been archived since. Restore it first.') };
  const { table } = form;
  const columns = Object.keys(saved.after).filter((id) => findField(seen, id));
  const since = columns.find((id) => !sameValue(record.values[id] ?? null, stored(table, id, saved.after[id])));
  const differ = columns.filter((id) => !sameValue(record.values[id] ?? null, stored(table, id, saved.before[id])));
  if (differ.length === 0) return { becomes: 'same' };
  if (since !== undefined)
    return {
      stays: say('{by} has changed {label} since. It stays as it is.', {
        by,
        label: findField(table, since)?.label ?? since,
      }),
    };
  const written = differ.filter((id) => form.fields.get(id)?.readOnly === false);
  if (written.length === 0)
    return {
      stays: say('Nothing of it is written by you: its fields are given by the system or read-only for your role.'),
    };
  return {
    becomes: 'changed',
    values: Object.fromEntries(written.map((id) => [id, stored(table, id, saved.before[id])])),
  };
}
