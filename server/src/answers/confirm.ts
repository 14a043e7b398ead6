import { answeredWords, type EntryState } from '@fiche/core/entry';
import { languageNow } from '@fiche/core/languages';
import { confirmationText, type PublicPage, pageLanguages } from '@fiche/core/pages';
import type { TableId } from '@fiche/core/tables';
import { numberToken, type Transaction } from '../database/index.ts';
import { putInOutbox } from '../messages/index.ts';
import type { MailSettings } from '../services.ts';
import type { AnswerRecord } from './keep.ts';
import { receiptSigned } from './receipt.ts';
import { withTitles } from './titled.ts';

/**
 * Puts a confirmation for a respondent into the outbox, where the page writes one and the answer names an address: with the
 * reference, what was answered, and the link to come back. In the transaction that saves the answer.
 */
export async function confirmAnswer(
  transaction: Transaction,
  mail: MailSettings,
  { page, form, cabinet }: { readonly page: PublicPage; readonly form: string; readonly cabinet: string },
  answer: {
    readonly id: number;
    readonly reference: string;
    readonly records: readonly AnswerRecord[];
    readonly state: EntryState;
  },
): Promise<void> {
  const { confirmation, corrections, slug } = page;
  const address = confirmation && answer.state.values[confirmation.to];
  if (!confirmation || typeof address !== 'string' || address === '') return;
  const languages = pageLanguages(page);
  const token = corrections && (await numberToken(transaction, receiptSigned(form), answer.id));
  const words = {
    reference: answer.reference,
    values: answeredWords(await withTitles(transaction, answer.state)).map(({ label, value }) => `${label}: ${value}`),
    link:
      token && `${mail.publicUrl}/p/${slug}${languages.length > 1 ? `?lang=${languageNow()}` : ''}#receipt=${token}`,
  };
  await putInOutbox(transaction, mail, {
    cabinet,
    kind: 'confirmation',
    login: null,
    address,
    subject: confirmationText(confirmation.subject, words).slice(0, 200),
    body: confirmationText(confirmation.text, words),
    about: answer.records.map(({ table, record }) => ({ table: table as TableId, record })),
  });
}
