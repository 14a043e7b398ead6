import type { TableId } from '@fiche/core/tables';
import { AS_LIST, type ViewDefinition } from '@fiche/core/views';
import type { Database, Transaction } from '../database/index.ts';

/** A view as it is stored. */
export interface StoredView extends ViewDefinition {
  readonly id: number;
  readonly table: TableId;
  readonly owner: string;
  readonly revision: number;
}

interface ViewRow extends Omit<StoredView, 'columns' | 'filter' | 'sort' | 'home'> {
  readonly home: boolean | null;
  /** Without `frozen`, `group` and `shown` where it was saved before there were such things. */
  readonly definition: Pick<ViewDefinition, 'columns' | 'filter' | 'sort'> &
    Partial<Pick<ViewDefinition, 'frozen' | 'group' | 'shown'>>;
}

/** Who reads views: an account with its role in the cabinet. */
export interface ViewReader {
  readonly login: string;
  readonly role: string;
  readonly builds: boolean;
}

const COLUMNS = 'id, table_id AS "table", owner, label, definition, shared, roles, opens, home, revision';

/** The views that a reader has: their own, those shared with their role and, for who builds, every shared one. */
const READABLE = '(owner = ? OR (shared AND (roles IS NULL OR ?::boolean OR ? = ANY(roles))))';
const readableValues = ({ login, builds, role }: ViewReader): (string | boolean)[] => [login, builds, role];

const readView = ({ definition, ...row }: ViewRow): StoredView => ({
  ...row,
  ...definition,
  frozen: definition.frozen ?? 1,
  group: definition.group ?? null,
  shown: definition.shown ?? AS_LIST,
  home: row.home ?? false,
});

const columnsOf = ({
  label,
  columns,
  filter,
  sort,
  frozen,
  group,
  shown,
  shared,
  roles,
  opens,
  home,
}: ViewDefinition) => ({
  label,
  definition: JSON.stringify({ columns, filter, sort, frozen, group, shown }),
  shared,
  roles: shared ? roles : null,
  opens: shared && opens,
  home: (shared && home) || null,
});

/** The views of a table that somebody has: their own, and the shared ones; the shared ones first, by label. */
export async function viewsOf(database: Database, table: TableId, reader: ViewReader): Promise<StoredView[]> {
  const { rows } = await database.raw<{ rows: ViewRow[] }>(
    `SELECT ${COLUMNS} FROM fiche.view WHERE table_id = ? AND ${READABLE} ORDER BY NOT shared, label COLLATE fiche.natural, id`,
    [table, ...readableValues(reader)] as string[],
  );
  return rows.map(readView);
}

/** Of some tables, the views that somebody has and that stand on everybody's Home, or are named by number; by label. */
export async function viewsForHome(
  database: Database,
  tables: readonly TableId[],
  reader: ViewReader,
  ids: readonly number[],
): Promise<StoredView[]> {
  const { rows } = await database.raw<{ rows: ViewRow[] }>(
    `SELECT ${COLUMNS} FROM fiche.view WHERE table_id = ANY(?) AND (home OR id = ANY(?)) AND ${READABLE} ORDER BY label COLLATE fiche.natural, id`,
    [tables, ids, ...readableValues(reader)] as unknown as string[],
  );
  return rows.map(readView);
}

/** A view of a table that somebody has; undefined for one that is not there for them. */
export async function findView(
  database: Database | Transaction,
  table: TableId,
  reader: ViewReader,
  id: number,
  lock = false,
): Promise<StoredView | undefined> {
  if (!Number.isSafeInteger(id)) return undefined;
  const { rows } = await database.raw<{ rows: ViewRow[] }>(
    `SELECT ${COLUMNS} FROM fiche.view WHERE id = ? AND table_id = ? AND ${READABLE}${lock ? ' FOR UPDATE' : ''}`,
    [id, table, ...readableValues(reader)] as string[],
  );
  return rows[0] && readView(rows[0]);
}

/** Adds a view; its table opens on no other one where it opens on this. As the owner of the database. */
export async function addView(
  owner: Transaction,
  table: TableId,
  login: string,
  definition: ViewDefinition,
): Promise<number> {
  if (definition.opens) await opensOnNone(owner, table);
  const [made] = await owner('fiche.view')
    .insert({ table_id: table, owner: login, ...columnsOf(definition) })
    .returning('id');
  return made.id;
}

/** Writes a view as it is from now on. As the owner of the database. */
export async function writeView(
  owner: Transaction,
  { id, table, revision, opens }: StoredView,
  definition: ViewDefinition,
): Promise<void> {
  if (definition.opens && !opens) await opensOnNone(owner, table);
  await owner('fiche.view')
    .where({ id })
    .update({ ...columnsOf(definition), revision: revision + 1 });
}

const opensOnNone = (owner: Transaction, table: TableId): Promise<unknown> =>
  owner.raw('UPDATE fiche.view SET opens = false, revision = revision + 1 WHERE table_id = ? AND opens', [table]);

/** How many views of a table somebody has made. */
export async function countViews(owner: Transaction, table: TableId, login: string): Promise<number> {
  const row = await owner('fiche.view').where({ table_id: table, owner: login }).count({ n: '*' }).first();
  return Number(row?.n ?? 0);
}

export const deleteView = (owner: Transaction, id: number): Promise<unknown> =>
  owner('fiche.view').where({ id }).delete();
