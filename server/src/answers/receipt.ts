import type { IdOfForm, RecordId } from '@fiche/core/tables';
import type { FastifyRequest } from 'fastify';
import { ask, type Database, numberOfToken, numberToken, type Transaction } from '../database/index.ts';
import type { AnswerRecord } from './keep.ts';

/** An answer as its receipt names it. */
export interface ReceivedAnswer {
  readonly id: number;
  readonly reference: string;
  /** The record of the form’s own table. */
  readonly record: RecordId;
  /** The record of the personal link that it came by. */
  readonly linked: RecordId | null;
}

/** What a receipt signs, for its form. */
export const receiptSigned = (form: IdOfForm): string => `receipt ${form}`;

/** The token with which a respondent comes back to the answer that made a record. */
export async function receiptFor(
  database: Database,
  form: IdOfForm,
  made: Pick<AnswerRecord, 'table' | 'record'>,
): Promise<string | undefined> {
  const [row] = await ask<{ id: number }>(
    database,
    'SELECT id FROM fiche.answer WHERE form_id = ? AND records @> ?::jsonb ORDER BY id LIMIT 1',
    [form, JSON.stringify([{ table: made.table, record: made.record }])],
  );
  return row && numberToken(database, receiptSigned(form), row.id);
}

/** The answer that the receipt in the header `x-fiche-receipt` of a request names; undefined without one, null for none of ours. */
export async function answerOfReceipt(
  database: Database,
  request: FastifyRequest,
  form: IdOfForm,
): Promise<ReceivedAnswer | null | undefined> {
  const sent = request.headers['x-fiche-receipt'];
  if (typeof sent !== 'string' || sent === '') return undefined;
  const id = await numberOfToken(database, receiptSigned(form), sent.slice(0, 200));
  if (id === undefined) return null;
  const [row] = await ask<ReceivedAnswer>(
    database,
    `SELECT a.id, a.reference, (a.records->0->>'record')::bigint AS record, l.record AS linked
     FROM fiche.answer a LEFT JOIN fiche.personal_link l ON l.id = a.link_id WHERE a.id = ? AND a.form_id = ?`,
    [id, form],
  );
  return row ?? null;
}

/** Notes that a respondent has corrected an answer. */
export const noteCorrection = (transaction: Transaction | Database, { id }: ReceivedAnswer): Promise<unknown> =>
  ask(transaction, 'UPDATE fiche.answer SET corrections = corrections + 1, corrected_at = now() WHERE id = ?', [id]);
