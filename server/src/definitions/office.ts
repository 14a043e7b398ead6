import type { Office } from '@fiche/core/office';
import type { Transaction } from '../database/index.ts';

/**
 * Keeps where the office is and how it writes. Every server takes it up with its next request, as the revision of all
 * cabinets moves. As the owner, in a transaction.
 */
export async function keepOffice(owner: Transaction, { timeZone, locale, currency }: Office): Promise<void> {
  await owner.raw(
    `INSERT INTO fiche.office (time_zone, locale, currency) VALUES (?, ?, ?)
     ON CONFLICT (one) DO UPDATE SET time_zone = excluded.time_zone, locale = excluded.locale, currency = excluded.currency`,
    [timeZone, locale, currency],
  );
  await owner.raw('UPDATE fiche.cabinet SET revision = revision + 1');
}
