import { OWN } from '@fiche/core/destinations';
import { type EntryState, effectiveValues, readable } from '@fiche/core/entry';
import type { RecordId } from '@fiche/core/tables';
import {
  type AnswerRecord,
  type AnswerToKeep,
  type CorrectedAnswer,
  confirmAnswer,
  countCorrected,
  keepAnswer,
  reserveCapacity,
} from '../answers/index.ts';
import type { Transaction } from '../database/index.ts';
import { notifyAnswered } from '../messages/index.ts';
import type { WrittenPart } from './writeParts.ts';

/** What an answer made, and the record that a limit for each record counts by. */
interface Made {
  readonly reference: string;
  readonly record: RecordId;
  readonly parts: readonly WrittenPart[];
  readonly counted: RecordId | undefined;
}

/** Takes the room for one more answer of a page. Returns the record that a limit for each record counts by. Throws 409 and 422. */
export async function reserveCapacityFor(
  transaction: Transaction,
  answer: AnswerToKeep,
  state: EntryState,
): Promise<RecordId | undefined> {
  const counted = countedBy(answer.page, state);
  await reserveCapacity(transaction, answer, state.opening.now, counted);
  return counted;
}

/** The record that a limit for each record counts an entry by; undefined where there is none. */
function countedBy({ atMostFor }: AnswerToKeep['page'], state: EntryState): RecordId | undefined {
  const value = atMostFor && effectiveValues(readable(state))[atMostFor.field];
  return typeof value === 'number' ? value : undefined;
}

/** Counts a corrected answer by the record that it names now; a field of a destination is not corrected. Throws 422. */
export async function recountCorrected(
  transaction: Transaction,
  answer: CorrectedAnswer,
  state: EntryState,
): Promise<void> {
  if (state.form.fields.has(answer.page.atMostFor?.field ?? ''))
    await countCorrected(transaction, answer, countedBy(answer.page, state));
}

/** Keeps an answer of a public page beside the records that it made, confirms it to its respondent, and tells who watches the form. */
export async function keepWithAnswer(
  transaction: Transaction,
  by: string,
  answer: AnswerToKeep,
  state: EntryState,
  { reference, record, parts, counted }: Made,
): Promise<void> {
  const { id: table, cabinet } = state.form.table;
  const records: AnswerRecord[] = [
    { table, record, did: 'added' },
    ...parts
      .filter((one) => one.part !== OWN)
      .map((one) => ({ table: one.table.id, record: one.record, did: one.did })),
  ];
  const countsFor = counted === undefined ? {} : { countsFor: counted };
  const id = await keepAnswer(transaction, answer, { reference, records, ...countsFor });
  const page = { page: answer.page, form: answer.form, cabinet };
  await confirmAnswer(transaction, answer.mail, page, { id, reference, records, state });
  await notifyAnswered(transaction, by, { cabinet, table, form: answer.form });
}
