import type { PersonalLinkView } from '@fiche/core/api';
import { tablesOfForm } from '@fiche/core/destinations';
import { say } from '@fiche/core/languages';
import {
  findField,
  type IdOfForm,
  linkedTable,
  type RecordId,
  type TableDefinition,
  type Tables,
} from '@fiche/core/tables';
import { type Actor, asActor, ask, type Database, numberToken, type Transaction } from '../database/index.ts';
import type { Definitions, StoredForm } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { putInOutbox } from '../messages/index.ts';
import { titlesOf } from '../records/index.ts';
import type { MailSettings } from '../services.ts';
import { linkSigned } from './pageAccess.ts';

/** The table whose records personal links to a form are for: what the field links to that they fill. Throws 409. */
export function tableOfLinks({ tables }: Definitions, { live }: StoredForm): TableDefinition {
  const who = live?.page?.who;
  const own = live && tablesOfForm(live, tables).get(live.table);
  const field = who?.kind === 'link' ? findField(own ?? undefined, who.fills) : undefined;
  const table = tables.get(linkedTable(field) ?? '');
  if (table) return table;
  throw new Refusal(
    409,
    say(
      'The published page does not open by personal links. Choose that in the settings of the page, publish, then make the links.',
    ),
  );
}

interface Row {
  readonly id: number;
  readonly record: RecordId;
  readonly once: boolean;
  readonly until: string | null;
  readonly withdrawn: boolean;
  readonly late: boolean;
  readonly answers: number;
  readonly mailedAt: Date | string | null;
}

/** The personal links of a form, newest first, with their addresses. `now` is civil time of the office. */
export async function personalLinks(
  database: Database,
  tables: Tables,
  { form, table, now }: { readonly form: IdOfForm; readonly table: TableDefinition; readonly now: string },
  { before, limit }: { readonly before?: number | undefined; readonly limit: number },
): Promise<{ readonly links: PersonalLinkView[]; readonly before: number | null }> {
  const rows = await ask<Row>(
    database,
    `SELECT l.id, l.record, l.once, to_char(l.until, 'YYYY-MM-DD') AS until, l.withdrawn, coalesce(l.until < ?::timestamp, false) AS late, l.mailed_at AS "mailedAt",
       (SELECT count(*) FROM fiche.answer a WHERE a.link_id = l.id) AS answers
     FROM fiche.personal_link l WHERE l.form_id = ? AND l.table_id = ? AND l.id < ? ORDER BY l.id DESC LIMIT ?`,
    [now, form, table.id, before ?? Number.MAX_SAFE_INTEGER, limit],
  );
  const titles = await titlesOf(
    database,
    tables,
    rows.map(({ record }) => ({ table: table.id, id: record })),
  );
  const views: PersonalLinkView[] = [];
  for (const { withdrawn, late, ...row } of rows) {
    const title = titles.get(`${table.id}:${row.record}`);
    if (title === undefined) continue;
    const used = row.once && row.answers > 0;
    const state = withdrawn ? 'withdrawn' : used ? 'used' : late ? 'late' : 'open';
    const mailedAt = row.mailedAt === null ? null : new Date(row.mailedAt).toISOString();
    views.push({ ...row, mailedAt, title, state, token: await numberToken(database, linkSigned(form), row.id) });
  }
  // Links to records that are not seen are left out, so that a page can have fewer than were asked for.
  return { links: views, before: rows.length < limit ? null : (rows.at(-1)?.id ?? null) };
}

export async function countPersonalLinks(database: Database, form: IdOfForm): Promise<number> {
  const [row] = await ask<{ n: number }>(database, 'SELECT count(*) AS n FROM fiche.personal_link WHERE form_id = ?', [
    form,
  ]);
  return row?.n ?? 0;
}

/** Makes a link for each of these records that has none in use. Returns how many were made. Civil `now`. As the owner. */
export async function makeLinks(
  owner: Transaction,
  { form, table }: { readonly form: IdOfForm; readonly table: TableDefinition },
  records: readonly RecordId[],
  { once, until }: { readonly once: boolean; readonly until: string | null },
  now: string,
): Promise<number> {
  // One that was used up, or is over, makes room for another.
  await owner.raw(
    `UPDATE fiche.personal_link l SET withdrawn = true WHERE l.form_id = ? AND l.record = ANY(?::bigint[]) AND NOT l.withdrawn
       AND (l.until < ?::timestamp OR l.once AND EXISTS (SELECT FROM fiche.answer a WHERE a.link_id = l.id))`,
    [form, records, now] as never[],
  );
  const { rows } = await owner.raw<{ rows: unknown[] }>(
    `INSERT INTO fiche.personal_link (form_id, table_id, record, once, until)
     SELECT ?, ?, r, ?, ?::date + time '23:59:59' FROM unnest(?::bigint[]) AS r ON CONFLICT (form_id, record) WHERE NOT withdrawn DO NOTHING RETURNING id`,
    [form, table.id, once, until, records] as never[],
  );
  return rows.length;
}

/** Withdraws a link. Throws 404. As the owner. */
export async function withdrawLink(owner: Database, actor: Actor, form: IdOfForm, id: number): Promise<void> {
  await asActor(owner, actor, async (transaction) => {
    const changed = await transaction('fiche.personal_link').where({ id, form_id: form }).update({ withdrawn: true });
    if (changed === 0) throw notFound(say('This personal link'));
  });
}

/**
 * A message for each open link that was not sent yet and whose record has an address. Returns how many were written, how many
 * records have no address, and how many links were sent before.
 */
export async function mailLinks(
  owner: Database,
  actor: Actor,
  mail: MailSettings,
  { cabinet, table, slug }: { cabinet: string; table: TableDefinition; slug: string },
  links: readonly PersonalLinkView[],
  { addresses, subject, text }: { addresses: ReadonlyMap<RecordId, string>; subject: string; text: string },
): Promise<{ readonly sent: number; readonly without: number; readonly before: number }> {
  const all = links.filter((one) => one.state === 'open');
  const open = all.filter((one) => one.mailedAt === null);
  const reached = open.filter((one) => addresses.has(one.record));
  await asActor(owner, actor, async (transaction) => {
    for (const one of reached) {
      const filled = (words: string): string =>
        words
          .replaceAll('{title}', () => one.title)
          .replaceAll('{link}', () => `${mail.publicUrl}/p/${slug}#link=${one.token}`);
      await putInOutbox(transaction, mail, {
        cabinet,
        kind: 'personalLink',
        login: null,
        address: addresses.get(one.record) ?? '',
        subject: filled(subject),
        body: filled(text),
        about: [{ table: table.id, record: one.record }],
      });
    }
    const sent = reached.map((one) => one.id);
    await transaction.raw('UPDATE fiche.personal_link SET mailed_at = now() WHERE id = ANY(?::bigint[])', [sent]);
  });
  return { sent: reached.length, without: open.length - reached.length, before: all.length - open.length };
}
