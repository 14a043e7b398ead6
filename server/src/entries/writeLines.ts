import { changesOf, type EntryState, originsOf, presentLines, type SubformLine } from '@fiche/core/entry';
import { isNumbered } from '@fiche/core/fields';
import type { PreparedSubform } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { RecordId, TableDefinition } from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { unacceptable } from '../http/index.ts';
import { findConflict, insertRecords, keepOrder, keepOrigins, type Origins, updateRecord } from '../records/index.ts';

/**
 * Writes the lines of a decided entry: new ones with their link to the record, changed ones, archived ones, and their
 * order. In the transaction that writes the record; the actor must be set. `recordOf` gives the record that the lines of a
 * destination belong to. Returns the lines that were added. Throws 422 for lines of a destination that is not written.
 */
export async function writeLines(
  transaction: Transaction,
  state: EntryState,
  record: RecordId,
  recordOf: (part: string) => RecordId | undefined = () => undefined,
): Promise<{ readonly table: TableDefinition; readonly ids: readonly RecordId[] }[]> {
  const added = [];
  for (const subform of state.form.subforms.values())
    if (!state.hidden[subform.id]) {
      const { of } = subform.definition;
      const around = of === undefined ? record : recordOf(of);
      if (around !== undefined)
        added.push({ table: subform.form.table, ids: await writeSubform(transaction, state, subform, around) });
      else if (presentLines(state, subform.id).length > 0)
        throw unacceptable([
          {
            path: subform.id,
            rule: 'destination',
            message: say('{lines} belong to a record of which nothing is entered. Enter it, or remove the lines.', {
              lines: subform.label,
            }),
          },
        ]);
    }
  return added;
}

/** Whether a decided entry adds, changes or archives a line of a record. */
export const changesLines = (state: EntryState): boolean =>
  [...state.form.subforms.keys()].some(
    (id) =>
      !state.hidden[id] &&
      ((state.lines[id] ?? []).some(
        (line) => line.state.opening.record && (line.archived || Object.keys(changesOf(line.state)).length > 0),
      ) ||
        presentLines(state, id).some((line) => !line.state.opening.record)),
  );

/**
 * Asks what the database would refuse of the new lines of a record that is to be added, before a number is drawn for it
 * or for them. Throws it as the database would.
 */
export async function checkLineConflicts(transaction: Transaction, state: EntryState): Promise<void> {
  const draws = (table: TableDefinition): boolean => table.fields.some((field) => isNumbered(field));
  for (const { id, form } of state.form.subforms.values()) {
    if (state.hidden[id] || !(draws(state.form.table) || draws(form.table))) continue;
    for (const line of presentLines(state, id)) {
      const conflict = await findConflict(transaction, form.table, changesOf(line.state));
      if (conflict) throw conflict;
    }
  }
}

async function writeSubform(
  transaction: Transaction,
  state: EntryState,
  subform: PreparedSubform,
  record: RecordId,
): Promise<readonly RecordId[]> {
  const { table } = subform.form;
  const { link } = subform.definition;
  const ids = new Map<SubformLine, number>();
  const traced: [number, Origins][] = [];
  const trace = (id: number, line: EntryState): void => {
    const origins = originsOf(line);
    if (Object.keys(origins).length > 0) traced.push([id, origins]);
  };
  for (const line of state.lines[subform.id] ?? []) {
    const stored = line.state.opening.record;
    if (!stored) continue;
    ids.set(line, stored.id);
    if (line.archived) await updateRecord(transaction, table.id, stored.id, { archived_at: new Date().toISOString() });
    else {
      const changes = changesOf(line.state);
      await updateRecord(transaction, table.id, stored.id, changes);
      if (Object.keys(changes).length > 0) trace(stored.id, line.state);
    }
  }
  const there = presentLines(state, subform.id);
  const fresh = there.filter((line) => !line.state.opening.record);
  const added = await insertRecords(
    transaction,
    table,
    fresh.map((line) => ({ ...changesOf(line.state), [link]: record })),
  );
  for (const [at, line] of fresh.entries()) {
    const id = added[at];
    if (id === undefined) continue;
    ids.set(line, id);
    trace(id, line.state);
  }
  await keepOrigins(transaction, table.id, traced);
  // The lines of a new record stand in the order in which they were just written; of lines that a view finds it is not the whole order.
  if (state.opening.record === null || subform.within) return added;
  await keepOrder(
    transaction,
    { table: table.id, link, record },
    there.flatMap((line) => ids.get(line) ?? []),
  );
  return added;
}
