import type { TableId } from '@fiche/core/tables';
import { memberDefinitions } from '../access/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { announcePeople } from '../events/index.ts';
import { changedInSpan, type LineSpan, seenView } from '../views/index.ts';

interface Watch {
  readonly view: number;
  readonly login: string;
  readonly table: TableId;
  readonly cabinet: string;
  /** The first transaction whose lines count for them. */
  readonly began: number;
}

/**
 * Notifies everybody who watches a view of how many of its records others have added or changed since the last time, as their
 * role sees it now. Reads the lines of transactions that are over, each once, so that what is written slowly is counted when
 * it is there. One server does it at a time. Returns how many people were notified. As the owner.
 */
export const notifyViewWatchers = (owner: Database): Promise<number> =>
  owner.transaction(async (transaction) => {
    const { rows: spans } = await transaction.raw<{ rows: LineSpan[] }>(
      `WITH before AS (SELECT read_to FROM fiche.views_notified FOR UPDATE SKIP LOCKED),
         now AS (SELECT txid_snapshot_xmin(txid_current_snapshot()) AS xmin)
       UPDATE fiche.views_notified SET read_to = now.xmin FROM before, now WHERE before.read_to <> now.xmin
       RETURNING before.read_to AS "from", now.xmin AS "to"`,
    );
    const [span] = spans;
    // After a restore into another cluster transactions are counted anew: nothing is between.
    if (!span || span.from > span.to) return 0;
    const { rows } = await transaction.raw<{ rows: Watch[] }>(
      `WITH written AS (SELECT DISTINCT place FROM ledger.line WHERE transaction >= ? AND transaction < ?)
       SELECT w.view_id AS view, w.login, v.table_id AS "table", t.cabinet, CASE WHEN w.began <= ? THEN w.began ELSE 0 END AS began
       FROM fiche.view_watch w JOIN fiche.view v ON v.id = w.view_id JOIN fiche."table" t ON t.id = v.table_id
       JOIN written ON written.place = 'data.' || v.table_id ORDER BY w.view_id, w.login`,
      [span.from, span.to, span.to],
    );
    let notified = 0;
    for (const watch of rows) {
      const own = { from: Math.max(span.from, watch.began), to: span.to };
      notified += (await notifyOfView(transaction, watch, own)) ? 1 : 0;
    }
    return notified;
  });

async function notifyOfView(
  owner: Transaction,
  { view: id, login, table, cabinet }: Watch,
  span: LineSpan,
): Promise<boolean> {
  const definitions = await memberDefinitions(owner, cabinet, login);
  const view = definitions && (await seenView(owner, definitions, table, login, id));
  if (!definitions?.seen || !view) return false;
  const reader = { asking: definitions.seen.asking };
  const changed = await changedInSpan(owner, definitions.tables, view.table, view.listing, reader, span);
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
