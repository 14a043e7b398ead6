import type { Inbox, NoticeView } from '@fiche/core/api';
import { NOTICE_KINDS, type NoticeKind } from '@fiche/core/messages';
import type { IdOfForm, TableId } from '@fiche/core/tables';
import { ask, type Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { titlesOf } from '../records/index.ts';
import { seenView } from '../views/index.ts';

/** Notices a page of the inbox. */
const PAGE = 30;
/** More unseen ones than these are not counted. */
const MOST_COUNTED = 100;

export interface NoticeRow {
  readonly id: number;
  readonly cabinet: string;
  readonly kind: NoticeView['kind'];
  readonly by: string;
  readonly at: string;
  readonly times: number;
  readonly table_id: TableId | null;
  readonly record: number | null;
  readonly view_id: number | null;
  readonly form_id: IdOfForm | null;
  readonly seen: boolean;
  readonly task: NoticeView['task'];
}

/** What is read of a notice; the table of a task is the one that it has written into. */
export const NOTICE_COLUMNS = `n.id, n.cabinet, n.kind, n.by, n.at, n.times, n.record, n.view_id, n.form_id, n.seen_at IS NOT NULL AS seen,
  coalesce(n.table_id, t.outcome->>'table', t.table_id) AS table_id,
  CASE WHEN t.id IS NOT NULL THEN json_build_object('id', t.id, 'label', t.label, 'state', t.state, 'message', t.message) END AS task`;
export const NOTICE_SOURCE = 'fiche.notice n LEFT JOIN fiche.task t ON t.id = n.task';

/** The definitions of a cabinet as the reader has them; undefined for one that they do not belong to. */
export type DefinitionsIn = (cabinet: string) => Definitions | undefined;

/** Notices as their reader may know them: what is about a record or a table that they do not see is left out. */
export async function visibleNotices(
  app: Database,
  definitionsIn: DefinitionsIn,
  rows: readonly NoticeRow[],
): Promise<NoticeView[]> {
  const found = new Map<number, NoticeView>();
  for (const cabinet of new Set(rows.map((row) => row.cabinet))) {
    const definitions = definitionsIn(cabinet);
    if (!definitions) continue;
    const { tables } = definitions;
    const own = rows.filter((row) => row.cabinet === cabinet);
    const titles = await titlesOf(
      app,
      tables,
      own.flatMap(({ table_id: table, record }) => (table === null || record === null ? [] : [{ table, id: record }])),
    );
    for (const { table_id: id, record, view_id: viewId, form_id: formId, ...row } of own) {
      const table = id === null ? undefined : tables.get(id);
      const title = record === null ? null : titles.get(`${id}:${record}`);
      if (title === undefined || (row.kind !== 'task' && !table)) continue;
      const view = viewId === null || !table ? null : await viewNamed(app, definitions, table.id, viewId);
      if (view === undefined) continue;
      const form = formId === null ? null : formNamed(definitions, formId);
      if (form === undefined) continue;
      found.set(row.id, {
        ...row,
        record,
        title,
        view,
        form,
        table: table ? { id: table.id, label: table.label } : null,
      });
    }
  }
  return rows.flatMap((row) => found.get(row.id) ?? []);
}

/** A form by its label; undefined for one that is not there. */
function formNamed({ forms }: Definitions, id: IdOfForm): NonNullable<NoticeView['form']> | undefined {
  const form = forms.get(id);
  return form && { id, label: form.live?.label ?? form.draft.label };
}

/** A view by its label, for its reader; undefined for one that they do not have. */
async function viewNamed(
  app: Database,
  definitions: Definitions,
  table: TableId,
  id: number,
): Promise<NonNullable<NoticeView['view']> | undefined> {
  const view = await seenView(app, definitions, table, definitions.seen?.asking.account ?? '', id);
  return view && { id, label: view.label };
}

/** A page of somebody’s inbox, newest first. `before` is the notice to go on from. */
export async function readInbox(
  app: Database,
  login: string,
  definitionsIn: DefinitionsIn,
  before?: number,
): Promise<Inbox> {
  const from =
    before === undefined
      ? ''
      : 'AND (n.at, n.id) < (SELECT b.at, b.id FROM fiche.notice b WHERE b.login = n.login AND b.id = ?)';
  const rows = await ask<NoticeRow>(
    app,
    `SELECT ${NOTICE_COLUMNS} FROM ${NOTICE_SOURCE} WHERE n.login = ? ${from} ORDER BY n.at DESC, n.id DESC LIMIT ${PAGE + 1}`,
    [login, ...(before === undefined ? [] : [before])],
  );
  const page = rows.slice(0, PAGE);
  return {
    notices: await visibleNotices(app, definitionsIn, page),
    before: rows.length > PAGE ? (page.at(-1)?.id ?? null) : null,
    unseen: await countUnseen(app, login, definitionsIn),
  };
}

async function countUnseen(app: Database, login: string, definitionsIn: DefinitionsIn): Promise<number> {
  const { rows } = await app.raw<{ rows: NoticeRow[] }>(
    `SELECT ${NOTICE_COLUMNS} FROM ${NOTICE_SOURCE} WHERE n.login = ? AND n.seen_at IS NULL ORDER BY n.at DESC, n.id DESC LIMIT ${MOST_COUNTED}`,
    [login],
  );
  return (await visibleNotices(app, definitionsIn, rows)).length;
}

/** Marks notices of somebody as seen: these, or all. */
export const seeNotices = (app: Database, login: string, notices: 'all' | readonly number[]): Promise<unknown> =>
  ask(
    app,
    `UPDATE fiche.notice SET seen_at = now() WHERE login = ? AND seen_at IS NULL ${notices === 'all' ? '' : 'AND id = ANY(?::bigint[])'}`,
    [login, ...(notices === 'all' ? [] : [notices])],
  );

/** The kinds of notices that somebody wants by mail. */
export async function mailedNotices(database: Database, login: string): Promise<NoticeKind[]> {
  const row = await database('fiche.notice_settings').where({ login }).first('mailed');
  return NOTICE_KINDS.filter((kind) => (row?.mailed as string[] | undefined)?.includes(kind));
}

/** Keeps which kinds of notices somebody wants by mail; what was told before is not mailed any more. */
export async function chooseMailed(database: Database, login: string, mailed: readonly NoticeKind[]): Promise<void> {
  await ask(
    database,
    `WITH chosen AS (
       INSERT INTO fiche.notice_settings (login, mailed) VALUES (?, ?) ON CONFLICT (login) DO UPDATE SET mailed = excluded.mailed RETURNING login)
     UPDATE fiche.notice n SET mailed_at = now() FROM chosen WHERE n.login = chosen.login AND n.mailed_at IS NULL AND n.seen_at IS NULL`,
    [login, mailed],
  );
}
