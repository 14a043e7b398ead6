import type { EntryBody, HeldAnswer } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { IdOfForm } from '@fiche/core/tables';
import type { PageAccess } from '../answers/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { notFound, Refusal } from '../http/index.ts';

interface Row {
  readonly id: number;
  readonly form_id: string;
  readonly version: number;
  readonly at: Date | string;
  readonly why: string;
  readonly body: EntryBody;
  readonly key: string;
  /** How its sender came to the page. */
  readonly access: PageAccess;
  readonly decided_at: Date | string | null;
  readonly decided_by: string | null;
  readonly decision: HeldAnswer['decision'];
  readonly reason: string | null;
}

/** An answer as it was sent, with why it is held. */
interface NewHeld {
  readonly form: IdOfForm;
  readonly version: number;
  readonly why: string;
  readonly body: EntryBody;
  readonly key: string;
  /** How its sender came to the page. */
  readonly access: PageAccess;
}

/** Keeps an answer for a person to look at; the same answer sent twice is kept once. Returns its number. */
export async function holdAnswer(
  database: Database,
  { form, version, why, body, key, access }: NewHeld,
): Promise<number> {
  const { rows } = await database.raw<{ rows: { id: number }[] }>(
    `WITH added AS (INSERT INTO fiche.held_answer (form_id, version, why, body, key, access) VALUES (?, ?, ?, ?, ?, ?::jsonb) ON CONFLICT DO NOTHING RETURNING id)
     SELECT id FROM added UNION ALL SELECT id FROM fiche.held_answer WHERE form_id = ? AND key = ? LIMIT 1`,
    [form, version, why, JSON.stringify(body), key, JSON.stringify(access), form, key],
  );
  return rows[0]?.id ?? 0;
}

const iso = (at: Date | string): string => new Date(at).toISOString();

const viewOf = (row: Row): Omit<HeldAnswer, 'values' | 'lines'> & Pick<EntryBody, 'values' | 'lines'> => ({
  id: row.id,
  version: row.version,
  at: iso(row.at),
  why: row.why,
  values: row.body.values,
  lines: row.body.lines,
  decision: row.decision,
  decidedBy: row.decided_by,
  decidedAt: row.decided_at === null ? null : iso(row.decided_at),
  reason: row.reason,
});

/** Held answers of a form: those that wait, then those of the last decisions. */
export async function heldAnswers(database: Database, form: IdOfForm): Promise<ReturnType<typeof viewOf>[]> {
  const rows: Row[] = await database('fiche.held_answer')
    .where({ form_id: form })
    .orderByRaw('decided_at IS NOT NULL, decided_at DESC, id DESC')
    .limit(200);
  return rows.map(viewOf);
}

/** How many answers wait, by form. */
export async function heldCounts(database: Database): Promise<ReadonlyMap<string, number>> {
  const { rows } = await database.raw<{ rows: { form: IdOfForm; n: number }[] }>(
    'SELECT form_id AS form, count(*)::integer AS n FROM fiche.held_answer WHERE decision IS NULL GROUP BY 1',
  );
  return new Map(rows.map(({ form, n }) => [form, n]));
}

/** A held answer that waits, locked so that two people cannot decide it at once. */
export async function waitingAnswer(transaction: Transaction, form: IdOfForm, id: number): Promise<Row> {
  const row: Row | undefined = await transaction('fiche.held_answer').where({ form_id: form, id }).forUpdate().first();
  if (!row) throw notFound(say('This answer'));
  if (row.decision !== null)
    throw new Refusal(
      409,
      say('{by} has {decision} this answer already.', { by: row.decided_by ?? '', decision: row.decision }),
    );
  return row;
}

/** Keeps what somebody decided of a held answer, and why. */
export const decideAnswer = (
  transaction: Transaction,
  id: number,
  by: string,
  decision: 'released' | 'discarded',
  reason: string,
): Promise<unknown> =>
  transaction('fiche.held_answer')
    .where({ id })
    .update({ decided_at: transaction.fn.now(), decided_by: by, decision, reason });
