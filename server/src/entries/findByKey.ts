import type { SeveralRecords } from '@fiche/core/api';
import type { Destination } from '@fiche/core/destinations';
import { isBlank, type Problem, type Values } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import { findField, type RecordId, type TableDefinition, typeOf } from '@fiche/core/tables';
import { ask, type Transaction } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';
import { findRecordsWhere } from '../records/index.ts';
import { onForm, partWords } from './partWords.ts';

/** Records that a person is offered at most where several have a key. */
const MOST_SEVERAL = 20;
/** Values that tell such a record from the others, at most. */
const MOST_VALUES = 6;

/** A record of a destination that is looked for, and who chooses where several have its key. */
interface Wanted {
  readonly form: PreparedForm;
  readonly table: TableDefinition;
  readonly destination: Destination;
  readonly meant: Readonly<Record<string, RecordId>> | undefined;
  /** What the person sees who chooses; undefined on a public page, where nobody is shown the records. */
  readonly choosing: Definitions | undefined;
}

/** Several records have a key, and a person has to say which is meant. */
export class SeveralFound extends Refusal {
  /** `newest` is the record that would be taken without a choice. */
  constructor(
    problem: Problem,
    readonly destination: Destination,
    readonly newest: RecordId,
    several?: SeveralRecords,
  ) {
    super(422, problem.message, [problem], several ? { several } : {});
  }
}

/** Tries an entry; where somebody will choose among several records later, as if the newest of them were chosen. */
export async function tryWithNewest(attempt: (meant: Record<string, RecordId>) => Promise<unknown>): Promise<void> {
  const meant: Record<string, RecordId> = {};
  for (;;)
    try {
      await attempt(meant);
      return;
    } catch (error) {
      if (!(error instanceof SeveralFound) || meant[error.destination.id] !== undefined) throw error;
      meant[error.destination.id] = error.newest;
    }
}

/**
 * The record in use that has the key; undefined where there is none, or nothing was entered for it. Who looks for the same
 * key at the same moment waits, so that it is added once. Throws 422 where several have it and none of them is to be taken.
 */
export async function findByKey(
  transaction: Transaction,
  wanted: Wanted,
  values: Values,
): Promise<RecordId | undefined> {
  const { table, destination, meant } = wanted;
  const keys = destination.key.flatMap((id) => findField(table, id) ?? []);
  const given = keys.map((field) => values[field.id] ?? null);
  if (keys.length === 0 || given.some((value) => isBlank(value))) return undefined;
  const where = keys
    .map((field) => {
      const type = typeOf(field);
      return type.family === 'text'
        ? `lower(${quoted(field.id)}) = lower(?)`
        : `${quoted(field.id)} = ?::${type.column(field.settings)}`;
    })
    .join(' AND ');
  const find = async (): Promise<number[]> => {
    const rows = await ask<{ id: number }>(
      transaction,
      `SELECT id FROM ${relation(table.id)} WHERE archived_at IS NULL AND ${where} ORDER BY id DESC LIMIT ${MOST_SEVERAL}`,
      given,
    );
    return rows.map((row) => Number(row.id));
  };
  let found = await find();
  if (found.length === 0) {
    // Somebody else may be adding it: once they are done, it is there.
    await transaction.raw('SELECT pg_advisory_xact_lock(hashtextextended(?, 0))', [
      `${table.id} ${JSON.stringify([destination.key, given]).toLowerCase()}`,
    ]);
    found = await find();
  }
  const [newest] = found;
  if (newest === undefined || found.length === 1 || destination.several === 'newest') return newest;
  if (destination.several === 'refuse')
    throw unacceptable([keyProblem(wanted, say('several records have it. The office has to tell them apart first.'))]);
  const seen = wanted.choosing && (await seenAmong(transaction, wanted.choosing, destination, found));
  const chosen = meant?.[destination.id];
  if (chosen !== undefined && (seen?.records.map((one) => one.id) ?? found).includes(chosen)) return chosen;
  const asks = (what: string): SeveralFound => new SeveralFound(keyProblem(wanted, what), destination, newest, seen);
  if (!seen) throw asks(say('several records have it. The office chooses one of them.'));
  if (seen.records.length === 0)
    throw unacceptable([
      keyProblem(wanted, say('several records have it, and your role sees none. Ask somebody who does.')),
    ]);
  throw asks(say('several records have it. Choose the one that is meant.'));
}

/** Those of the records that somebody sees, with what tells them apart. */
async function seenAmong(
  transaction: Transaction,
  { tables }: Definitions,
  { id: destination, table: tableId }: Destination,
  found: readonly RecordId[],
): Promise<SeveralRecords> {
  const table = tables.get(tableId);
  if (!table) return { destination, label: '', records: [] };
  const records = await findRecordsWhere(transaction, tables, tableId, 'r.id = ANY(?) ORDER BY r.id DESC', [found]);
  return {
    destination,
    label: table.label,
    records: records.map(({ id, title, values, linked }) => ({
      id,
      title,
      // The title says its own part already.
      values: partWords(table, values, (_to, link) => linked[link]?.title)
        .filter((one) => one.value !== title)
        .slice(0, MOST_VALUES),
    })),
  };
}

/** A problem with the key of a destination, at its field on the form. */
export function keyProblem({ form, table, destination }: Wanted, what: string): Problem {
  const [key = ''] = destination.key;
  const label = findField(table, key)?.label ?? key;
  return onForm(form, destination.id, table, {
    path: key,
    rule: 'destination',
    message: say('{field} of {table}: {what}', { field: label, table: table.label, what }),
  });
}
