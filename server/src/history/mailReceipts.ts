import { formatMoment } from '@fiche/core/fields';
import { ask, type Database, type Transaction } from '../database/index.ts';
import { putInOutbox } from '../messages/index.ts';
import type { MailSettings } from '../services.ts';
import { newestReceipt } from './receipts.ts';

/** Where a cabinet's receipts are sent each day; null for nowhere. */
export async function receiptAddress(app: Database, cabinet: string): Promise<string | null> {
  const [row] = await ask<{ address: string }>(app, 'SELECT address FROM fiche.receipt_mail WHERE cabinet = ?', [
    cabinet,
  ]);
  return row?.address ?? null;
}

/** Sends receipts to another address from now on, or to none. As the owner, with an actor. */
export async function keepReceiptAddress(owner: Transaction, cabinet: string, address: string | null): Promise<void> {
  if (address === null) await owner('fiche.receipt_mail').where({ cabinet }).delete();
  else
    await owner.raw(
      `INSERT INTO fiche.receipt_mail (cabinet, address) VALUES (?, ?)
       ON CONFLICT (cabinet) DO UPDATE SET address = excluded.address, last_at = NULL WHERE receipt_mail.address <> excluded.address`,
      [cabinet, address],
    );
}

/** Puts the receipts that are due today into the outbox, once however many servers look. As the owner. */
export async function mailReceipts(owner: Database, mail: MailSettings): Promise<void> {
  await owner.transaction(async (write) => {
    const { rows } = await write.raw<{ rows: { cabinet: string; label: string; address: string }[] }>(
      `UPDATE fiche.receipt_mail r SET last_at = now() FROM fiche.cabinet c
       WHERE c.id = r.cabinet AND r.cabinet IN (SELECT d.cabinet FROM fiche.receipt_mail d
         WHERE (d.last_at IS NULL OR d.last_at < now() - interval '24 hours') AND EXISTS (SELECT FROM ledger.seal) FOR UPDATE SKIP LOCKED)
       RETURNING r.cabinet, c.label, r.address`,
    );
    if (rows.length === 0) return;
    const receipt = await newestReceipt(owner);
    for (const { cabinet, label, address } of rows)
      await putInOutbox(write, mail, {
        cabinet,
        kind: 'receipt',
        login: null,
        address,
        subject: `Receipt of the ledger of ${label}: seal ${receipt.seal.number}`,
        body: [
          `This is a receipt for the newest seal of the ledger of ${label}, signed on ${formatMoment(receipt.issued)}.`,
          'Keep it outside the office. An exported ledger is verified against it without a server: save what follows as a file, and give it to verify.mjs.',
          JSON.stringify(receipt, null, 2),
        ].join('\n\n'),
      });
  });
}
