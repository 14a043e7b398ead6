import { subformsOf } from '@fiche/core/forms';
import { quoted, relation } from '@fiche/core/queries';
import { findField, type IdOfForm, linkedTable, type RecordId, type TableId, type Tables } from '@fiche/core/tables';
import { asActor, type Database, setActor, type Transaction } from '../database/index.ts';
import { loadDefinitions, type StoredForm } from '../definitions/index.ts';
import { Refusal } from '../http/index.ts';
import { eraseRecord } from '../records/index.ts';
import type { AnswerRecord } from './keep.ts';

/** Answers that are erased at once; the next minute goes on. */
const AT_ONCE = 50;

interface OldAnswer {
  readonly id: number;
  readonly form: IdOfForm;
  readonly days: number;
  readonly records: readonly AnswerRecord[];
}

/**
 * Erases the answers that are older than their page keeps them: with the records that they added, the lines and files of
 * these, and what held answers say. What other records link to stays, and the answer tells what. As the owner.
 */
export async function eraseOldAnswers(owner: Database): Promise<void> {
  const { rows } = await owner.raw<{ rows: OldAnswer[] }>(
    `SELECT a.id, a.form_id AS form, p.days, a.records FROM fiche.answer a JOIN ${PAGES} p ON p.id = a.form_id
     WHERE a.erased_at IS NULL AND a.at < now() - make_interval(days => p.days) ORDER BY a.id LIMIT ${AT_ONCE}`,
  );
  if (rows.length > 0) {
    const { tables, forms } = await loadDefinitions(owner);
    for (const answer of rows) {
      const form = forms.get(answer.form);
      if (form) await eraseAnswer(owner, tables, form, answer);
    }
  }
  await eraseHeld(owner);
}

/** The published pages that keep answers for so many days only. */
const PAGES = `(SELECT f.id, f.slug, (v.definition->'page'->>'eraseAfterDays')::integer AS days FROM fiche.form f
  JOIN fiche.form_version v ON v.form_id = f.id AND v.number = f.live_version WHERE (v.definition->'page'->>'eraseAfterDays') IS NOT NULL)`;

/** What held answers say is erased as well; one that still waits is discarded with it. */
const eraseHeld = (owner: Database): Promise<unknown> =>
  owner.raw(
    `UPDATE fiche.held_answer h SET body = '{"values": {}}', decided_at = coalesce(h.decided_at, now()), decided_by = coalesce(h.decided_by, 'page:' || p.slug),
       decision = coalesce(h.decision, 'discarded'), reason = coalesce(h.reason, 'Erased, as the page says.')
     FROM ${PAGES} p WHERE p.id = h.form_id AND h.at < now() - make_interval(days => p.days) AND h.body <> '{"values": {}}'`,
  );

/** Erases one answer, whole or not at all. */
async function eraseAnswer(owner: Database, tables: Tables, form: StoredForm, answer: OldAnswer): Promise<void> {
  const label = form.live?.label ?? form.draft.label;
  const reason = `Erased after ${answer.days} days, as the page says.`;
  const actor = { name: `page:${form.slug}`, through: { kind: 'page', label, reason } } as const;
  await asActor(owner, actor, async (transaction) => {
    const { rows } = await transaction.raw<{ rows: unknown[] }>(
      'SELECT FROM fiche.answer WHERE id = ? AND erased_at IS NULL FOR UPDATE SKIP LOCKED',
      [answer.id],
    );
    // Another server is at it.
    if (rows.length === 0) return;
    let left = answer.records.filter((one) => one.did === 'added');
    // What links to another record goes before it: erased again and again, as long as that frees one more.
    for (let before = Number.POSITIVE_INFINITY; left.length > 0 && left.length < before; ) {
      before = left.length;
      const refused: AnswerRecord[] = [];
      for (const one of left) {
        if (!(await eraseWithLines(transaction, tables, form, one.table, one.record))) refused.push(one);
        await setActor(transaction, actor);
      }
      left = refused;
    }
    const kept = left.map(
      ({ table, record }) => `${tables.get(table)?.label ?? table} ${record}, which other records link to`,
    );
    await transaction('fiche.answer')
      .where({ id: answer.id })
      .update({ erased_at: transaction.fn.now(), not_erased: kept.length > 0 ? kept.join('; ') : null });
  });
}

/** Erases a record, and before it the lines that the form entered with it. False where other records link to it; then it stays as it was. */
async function eraseWithLines(
  transaction: Transaction,
  tables: Tables,
  form: StoredForm,
  table: TableId,
  record: RecordId,
): Promise<boolean> {
  try {
    await transaction.transaction(async (nested) => {
      for (const { table: of, link } of form.live ? subformsOf(form.live) : []) {
        // A subform of a destination has lines of that record, and of no other.
        if (linkedTable(findField(tables.get(of), link)) !== table) continue;
        const { rows } = await nested.raw<{ rows: { id: RecordId }[] }>(
          `SELECT id FROM ${relation(of)} WHERE ${quoted(link)} = ? ORDER BY id`,
          [record],
        );
        for (const { id } of rows) await eraseOne(nested, tables, of, id);
      }
      await eraseOne(nested, tables, table, record);
    });
    return true;
  } catch (error) {
    if (error instanceof Refusal && error.status === 409) return false;
    throw error;
  }
}

/** Archives a record that is in use, and erases it. One that is gone already is passed over. */
async function eraseOne(transaction: Transaction, tables: Tables, table: TableId, id: RecordId): Promise<void> {
  await transaction.raw(`UPDATE ${relation(table)} SET archived_at = now() WHERE id = ? AND archived_at IS NULL`, [id]);
  const { rows } = await transaction.raw<{ rows: { version: number }[] }>(
    `SELECT version FROM ${relation(table)} WHERE id = ?`,
    [id],
  );
  if (rows[0]) await eraseRecord(transaction, tables, table, id, rows[0].version);
}
