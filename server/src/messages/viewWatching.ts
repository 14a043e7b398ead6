import type { TableId } from '@fiche/core/tables';
import { definitionsFor } from '../access/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { announcePeople } from '../events/index.ts';
import { Refusal } from '../http/index.ts';
import { changedInSpan, seenView } from '../views/index.ts';

interface Watch {
  readonly view: number;
  readonly login: string;
  readonly table: TableId;
  readonly cabinet: string;
  readonly from: number;
  readonly to: number;
}

/**
 * Tells everybody who watches a view how many records of it others have added or changed since it was last looked
 * through, as their role sees it now. It reads the lines of transactions that are over, each once, so that what is written
 * slowly is told when it is there. Several servers share it. Returns how many people were told. As the owner.
 */
export const tellViews = (owner: Database): Promise<number> =>
  owner.transaction(async (transaction) => {
    // After a restore into another cluster transactions are counted anew.
    const { rows } = await transaction.raw<{ rows: Watch[] }>(
      `WITH over AS (SELECT txid_snapshot_xmin(txid_current_snapshot()) AS xmin),
         mine AS (SELECT w.view_id, w.login, w.seen_to FROM fiche.view_watch w, over WHERE w.seen_to <> over.xmin ORDER BY 1, 2 FOR UPDATE OF w SKIP LOCKED),
         moved AS (UPDATE fiche.view_watch w SET seen_to = over.xmin FROM mine, over WHERE w.view_id = mine.view_id AND w.login = mine.login)
       SELECT mine.view_id AS view, mine.login, v.table_id AS "table", t.cabinet, mine.seen_to AS "from", over.xmin AS "to"
       FROM mine, over, fiche.view v JOIN fiche."table" t ON t.id = v.table_id WHERE v.id = mine.view_id AND mine.seen_to < over.xmin
         AND EXISTS (SELECT FROM ledger.line l WHERE l.place = 'data.' || v.table_id AND l.transaction >= mine.seen_to AND l.transaction < over.xmin)`,
    );
    let told = 0;
    for (const watch of rows) told += (await tellView(transaction, watch)) ? 1 : 0;
    return told;
  });

async function tellView(owner: Transaction, { view: id, login, table, cabinet, from, to }: Watch): Promise<boolean> {
  const definitions = await definitionsFor(owner, cabinet, login).catch((error: unknown) => {
    if (error instanceof Refusal) return undefined;
    throw error;
  });
  const view = definitions && (await seenView(owner, definitions, table, login, id));
  if (!definitions?.seen || !view) return false;
  const reader = { asking: definitions.seen.asking };
  const changed = await changedInSpan(owner, definitions.tables, view.table, view.listing, reader, { from, to });
  if (!changed) return false;
  await owner.raw(
    `INSERT INTO fiche.notice (login, cabinet, kind, by, times, table_id, view_id) VALUES (?, ?, 'view', ?, ?, ?, ?)
     ON CONFLICT (login, view_id) WHERE seen_at IS NULL AND view_id IS NOT NULL
     DO UPDATE SET times = notice.times + excluded.times, at = excluded.at, by = excluded.by, mailed_at = NULL`,
    [login, cabinet, changed.by, changed.count, table, id],
  );
  await announcePeople(owner, changed.by, [login], { kind: 'changed' });
  return true;
}
