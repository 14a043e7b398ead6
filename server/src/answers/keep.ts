import { say } from '@fiche/core/languages';
import { type PublicPage, unavailableAt, unavailableWords } from '@fiche/core/pages';
import type { IdOfForm, RecordId, TableId } from '@fiche/core/tables';
import { ask, type Database, type Transaction } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import type { MailSettings } from '../services.ts';
import type { PageAccess } from './pageAccess.ts';

type Queryable = Database | Transaction;

/** An answer that is to be kept with the records that it makes, in the transaction that writes them. */
export interface AnswerToKeep extends PageAccess {
  readonly form: IdOfForm;
  readonly version: number;
  /** The page as it is today: its limits hold, whatever version was begun. */
  readonly page: PublicPage;
  /** The text that its sender agreed to. */
  readonly consent: string | undefined;
  /** How messages leave the office, for the confirmation. */
  readonly mail: MailSettings;
  /** The number of the held answer that is released. */
  readonly held?: number;
}

/** A record that an answer wrote or found. */
export interface AnswerRecord {
  readonly table: TableId;
  readonly record: RecordId;
  readonly did: 'added' | 'found' | 'changed';
}

/** How many answers a page has taken; not counted where no limit asks for it. */
export async function countAnswers(database: Queryable, form: IdOfForm, { atMost }: PublicPage): Promise<number> {
  if (atMost === undefined) return 0;
  const [row] = await ask<{ n: number }>(database, 'SELECT count(*) AS n FROM fiche.answer WHERE form_id = ?', [form]);
  return row?.n ?? 0;
}

/** Refuses what comes to a page that takes no answers. Nothing that was typed is lost by it. */
export async function requireOpen(database: Queryable, form: IdOfForm, page: PublicPage, now: string): Promise<void> {
  const why = unavailableAt(page, now, await countAnswers(database, form, page));
  if (why)
    throw new Refusal(
      409,
      say('{why} Your answer was not sent; what you typed stays here.', { why: unavailableWords(page, why) }),
    );
}

/**
 * Makes sure that the page is open and has room for one more answer, which nobody else takes until the transaction is over. `countsFor`
 * is the record that a limit for each record counts by. Throws 409.
 */
export async function reserveCapacity(
  transaction: Transaction,
  { form, page }: AnswerToKeep,
  now: string,
  countsFor: RecordId | undefined,
): Promise<void> {
  const { atMost, atMostFor } = page;
  if (atMost === undefined && !atMostFor) return requireOpen(transaction, form, page, now);
  await lockCapacity(transaction, form);
  await requireOpen(transaction, form, page, now);
  if (atMostFor && countsFor !== undefined) await requireRoomFor(transaction, form, atMostFor, countsFor);
}

/** Refuses one more answer for a record that has as many as the page takes. Throws 422. */
async function requireRoomFor(
  transaction: Transaction,
  form: IdOfForm,
  { field, most }: NonNullable<PublicPage['atMostFor']>,
  record: RecordId,
): Promise<void> {
  const [row] = await ask<{ n: number }>(
    transaction,
    'SELECT count(*) AS n FROM fiche.answer WHERE form_id = ? AND counts_for = ?',
    [form, record],
  );
  if ((row?.n ?? 0) < most) return;
  const message = say('No more answers are taken for this choice. Choose another.');
  throw new Refusal(422, message, [{ path: field, rule: 'atMost', message }]);
}

/** An answer that its respondent corrects, and the page as it is today. */
export interface CorrectedAnswer {
  readonly id: number;
  readonly form: IdOfForm;
  readonly page: PublicPage;
}

/** Counts an answer that is corrected by the record that it names now, where the page takes one more for that. Throws 422. */
export async function countCorrected(
  transaction: Transaction,
  { id, form, page: { atMostFor } }: CorrectedAnswer,
  countsFor: RecordId | undefined,
): Promise<void> {
  if (!atMostFor) return;
  await lockCapacity(transaction, form);
  const [answer] = await ask<{ counted: RecordId | null }>(
    transaction,
    'SELECT counts_for AS counted FROM fiche.answer WHERE id = ?',
    [id],
  );
  if (!answer || answer.counted === (countsFor ?? null)) return;
  if (countsFor !== undefined) await requireRoomFor(transaction, form, atMostFor, countsFor);
  await ask(transaction, 'UPDATE fiche.answer SET counts_for = ? WHERE id = ?', [countsFor ?? null, id]);
}

/** Lets nobody else take the room of a page until the transaction is over. */
const lockCapacity = (transaction: Transaction, form: IdOfForm): Promise<unknown> =>
  ask(transaction, 'SELECT pg_advisory_xact_lock(hashtextextended(?, 20))', [`answers ${form}`]);

/** Keeps an answer with the records that it made. Returns its number. Throws 409 where its personal link was used meanwhile. */
export async function keepAnswer(
  transaction: Transaction,
  answer: AnswerToKeep,
  written: { readonly reference: string; readonly records: readonly AnswerRecord[]; readonly countsFor?: RecordId },
): Promise<number> {
  const { form, version, code, link, held } = answer;
  const consent = answer.consent === undefined ? null : await consentText(transaction, form, answer.consent);
  const rows = await ask<{ id: number }>(
    transaction,
    `INSERT INTO fiche.answer (form_id, version, reference, code, link_id, once, counts_for, records, consent_id, held_id)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?::jsonb, ?, ?) RETURNING id`,
    [
      form,
      version,
      written.reference,
      code ?? null,
      link?.id ?? null,
      link?.once ?? false,
      written.countsFor ?? null,
      JSON.stringify(written.records),
      consent,
      held ?? null,
    ],
  ).catch((error: { constraint?: string }) => {
    if (error.constraint !== 'answer_once') throw error;
    throw new Refusal(409, say('This personal link was used already, and it is good for one answer.'));
  });
  return rows[0]?.id ?? 0;
}

/** The number under which a text of consent is kept; a text that is new is kept now. */
async function consentText(transaction: Transaction, form: IdOfForm, text: string): Promise<number> {
  const find = 'SELECT id FROM fiche.consent_text WHERE form_id = ? AND md5(text) = md5(?)';
  const [known] = await ask<{ id: number }>(transaction, find, [form, text]);
  if (known) return known.id;
  await ask(transaction, 'INSERT INTO fiche.consent_text (form_id, text) VALUES (?, ?) ON CONFLICT DO NOTHING', [
    form,
    text,
  ]);
  const [made] = await ask<{ id: number }>(transaction, find, [form, text]);
  return made?.id ?? 0;
}
