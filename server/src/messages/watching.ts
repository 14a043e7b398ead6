import type { WatchView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { recordsOf } from '@fiche/core/queries';
import type { IdOfForm, RecordId, TableId, Tables } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { titlesOf } from '../records/index.ts';
import { seenView } from '../views/index.ts';
import type { DefinitionsIn } from './notices.ts';

/** Records, and views, that one account can watch. */
const MOST_WATCHED = 500;
const MOST_VIEWS_WATCHED = 50;

/** Lets somebody watch a record that they see. Throws 404, and 409 when they watch too many. */
export async function watchRecord(
  app: Database,
  tables: Tables,
  table: TableId,
  record: RecordId,
  login: string,
): Promise<void> {
  const { rows } = await app.raw<{ rows: { watched: number }[] }>(
    `SELECT (SELECT count(*) FROM fiche.watch w WHERE w.login = ?) AS watched FROM ${recordsOf(tables, table)} r WHERE r.id = ?`,
    [login, record],
  );
  if (!rows[0]) throw notFound(say('This record'));
  if (rows[0].watched >= MOST_WATCHED)
    throw new Refusal(
      409,
      say(
        'You watch {mostWatched} records, which is the most. Stop watching some of them first, on the page of your account.',
        { mostWatched: MOST_WATCHED },
      ),
    );
  await app.raw('INSERT INTO fiche.watch (table_id, record, login) VALUES (?, ?, ?) ON CONFLICT DO NOTHING', [
    table,
    record,
    login,
  ]);
}

export const unwatchRecord = (app: Database, table: TableId, record: RecordId, login: string): Promise<unknown> =>
  app.raw('DELETE FROM fiche.watch WHERE table_id = ? AND record = ? AND login = ?', [table, record, login]);

/** The records that somebody watches and sees, newest first. */
export async function listWatches(app: Database, login: string, definitionsIn: DefinitionsIn): Promise<WatchView[]> {
  const { rows } = await app.raw<{ rows: { cabinet: string; table: TableId; record: number; since: string }[] }>(
    `SELECT t.cabinet, w.table_id AS "table", w.record, w.since FROM fiche.watch w JOIN fiche."table" t ON t.id = w.table_id
     WHERE w.login = ? ORDER BY w.since DESC, w.table_id, w.record DESC`,
    [login],
  );
  const titles = new Map<string, string>();
  for (const cabinet of new Set(rows.map((row) => row.cabinet))) {
    const tables = definitionsIn(cabinet)?.tables;
    if (!tables) continue;
    const own = rows.filter((row) => row.cabinet === cabinet);
    const wanted = own.map(({ table, record }) => ({ table, id: record }));
    for (const [key, title] of await titlesOf(app, tables, wanted)) titles.set(key, title);
  }
  return rows.flatMap(({ cabinet, table: id, record, since }) => {
    const table = definitionsIn(cabinet)?.tables.get(id);
    const title = titles.get(`${id}:${record}`);
    return !table || title === undefined
      ? []
      : [{ cabinet, table: { id: table.id, label: table.label }, record, view: null, form: null, title, since }];
  });
}

/** Lets somebody watch a view that they have. Throws 404, and 409 when they watch too many. */
export async function watchView(
  app: Database,
  definitions: Definitions,
  table: TableId,
  view: number,
  login: string,
): Promise<void> {
  if (!(await seenView(app, definitions, table, login, view))) throw notFound(say('This view'));
  const { rows } = await app.raw<{ rows: { n: number }[] }>(
    'SELECT count(*) AS n FROM fiche.view_watch WHERE login = ?',
    [login],
  );
  if ((rows[0]?.n ?? 0) >= MOST_VIEWS_WATCHED)
    throw new Refusal(
      409,
      say(
        'You watch {mostViewsWatched} views, which is the most. Stop watching some of them first, on the page of your account.',
        { mostViewsWatched: MOST_VIEWS_WATCHED },
      ),
    );
  await app.raw('INSERT INTO fiche.view_watch (view_id, login) VALUES (?, ?) ON CONFLICT DO NOTHING', [view, login]);
}

export const unwatchView = (app: Database, view: number, login: string): Promise<unknown> =>
  app.raw('DELETE FROM fiche.view_watch WHERE view_id = ? AND login = ?', [view, login]);

/** The views that somebody watches and has, newest first. */
export async function listWatchedViews(
  app: Database,
  login: string,
  definitionsIn: DefinitionsIn,
): Promise<WatchView[]> {
  const { rows } = await app.raw<{ rows: { cabinet: string; table: TableId; view: number; since: string }[] }>(
    `SELECT t.cabinet, v.table_id AS "table", v.id AS view, w.since FROM fiche.view_watch w JOIN fiche.view v ON v.id = w.view_id
     JOIN fiche."table" t ON t.id = v.table_id WHERE w.login = ? ORDER BY w.since DESC, v.id`,
    [login],
  );
  const watched: WatchView[] = [];
  for (const { cabinet, table, view: id, since } of rows) {
    const definitions = definitionsIn(cabinet);
    const view = definitions && (await seenView(app, definitions, table, login, id));
    if (view)
      watched.push({
        cabinet,
        table: { id: table, label: view.table.label },
        record: null,
        view: id,
        form: null,
        title: view.label,
        since,
      });
  }
  return watched;
}

/** Lets somebody watch the answers to a form whose table they see. Throws 404. */
export async function watchForm(
  app: Database,
  { forms, tables }: Definitions,
  form: IdOfForm,
  login: string,
): Promise<void> {
  const found = forms.get(form);
  if (!found || !tables.has(found.draft.table)) throw notFound(say('This form'));
  await app.raw('INSERT INTO fiche.form_watch (form_id, login) VALUES (?, ?) ON CONFLICT DO NOTHING', [form, login]);
}

export const unwatchForm = (app: Database, form: IdOfForm, login: string): Promise<unknown> =>
  app.raw('DELETE FROM fiche.form_watch WHERE form_id = ? AND login = ?', [form, login]);

/** The forms that somebody watches and whose tables they see, newest first. */
export async function listWatchedForms(
  app: Database,
  login: string,
  definitionsIn: DefinitionsIn,
): Promise<WatchView[]> {
  const { rows } = await app.raw<{ rows: { cabinet: string; form: IdOfForm; since: string }[] }>(
    `SELECT f.cabinet, w.form_id AS form, w.since FROM fiche.form_watch w JOIN fiche.form f ON f.id = w.form_id
     WHERE w.login = ? ORDER BY w.since DESC, w.form_id`,
    [login],
  );
  return rows.flatMap(({ cabinet, form: id, since }) => {
    const definitions = definitionsIn(cabinet);
    const form = definitions?.forms.get(id);
    const table = form && definitions?.tables.get(form.draft.table);
    return form && table
      ? [
          {
            cabinet,
            table: { id: table.id, label: table.label },
            record: null,
            view: null,
            form: id,
            title: form.live?.label ?? form.draft.label,
            since,
          },
        ]
      : [];
  });
}
