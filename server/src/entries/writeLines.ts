import { changesOf, type EntryState, type Line, linesIn, originsOf } from '@fiche/core/entry';
import type { PreparedSubform } from '@fiche/core/forms';
import type { Transaction } from '../database/index.ts';
import { insertRecords, keepOrder, keepOrigins, updateRecord } from '../records/index.ts';

/**
 * Writes the lines of a decided entry: new ones with their link to the record, changed ones, archived ones, and their
 * order. In the transaction that writes the record; the actor must be set.
 */
export async function writeLines(transaction: Transaction, state: EntryState, record: number): Promise<void> {
  for (const subform of state.form.subforms.values())
    if (!state.hidden[subform.id]) await writeSubform(transaction, state, subform, record);
}

async function writeSubform(
  transaction: Transaction,
  state: EntryState,
  subform: PreparedSubform,
  record: number,
): Promise<void> {
  const { table } = subform.form;
  const { link } = subform.definition;
  const ids = new Map<Line, number>();
  for (const line of state.lines[subform.id] ?? []) {
    const stored = line.state.opening.record;
    if (!stored) continue;
    ids.set(line, stored.id);
    if (line.archived) await updateRecord(transaction, table.id, stored.id, { archived_at: new Date().toISOString() });
    else await changeLine(transaction, table.id, stored.id, line.state);
  }
  const there = linesIn(state, subform.id);
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
    const origins = originsOf(line.state);
    if (Object.keys(origins).length > 0) await keepOrigins(transaction, table.id, id, origins);
  }
  await keepOrder(
    transaction,
    { table: table.id, link, record },
    there.flatMap((line) => ids.get(line) ?? []),
  );
}

async function changeLine(transaction: Transaction, table: string, id: number, line: EntryState): Promise<void> {
  const changes = changesOf(line);
  await updateRecord(transaction, table, id, changes);
  const origins = originsOf(line);
  if (Object.keys(changes).length > 0 && Object.keys(origins).length > 0)
    await keepOrigins(transaction, table, id, origins);
}
