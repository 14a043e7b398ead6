import type { ListedForm } from '@fiche/core/api';
import { type DefinedForm, type FeedingView, type FeedingViews, formDefinitionSchema } from '@fiche/core/forms';
import { DEFAULT_OFFICE, type Office, setOffice } from '@fiche/core/office';
import type { Asking, Role } from '@fiche/core/rights';
import type { FieldDefinition, TableDefinition, TableId, Tables } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import { ROLE_JSON, readRole, type StoredRole } from './roles.ts';

export interface Cabinet {
  readonly id: string;
  readonly label: string;
  readonly description: string;
  readonly archived: boolean;
  readonly revision: number;
}

export interface StoredForm {
  readonly id: string;
  readonly cabinet: string;
  readonly table: TableId;
  readonly draft: DefinedForm;
  readonly draftRevision: number;
  readonly liveVersion: number | null;
  readonly live: DefinedForm | null;
  readonly slug: string | null;
  readonly archived: boolean;
}

/** A form as lists show it. */
export const summarise = (form: StoredForm): ListedForm => ({
  id: form.id,
  label: form.draft.label,
  table: form.table,
  liveVersion: form.liveVersion,
  slug: form.slug,
  opensOn: (form.live ?? form.draft).opensOn,
  may: (form.live ?? form.draft).may,
  archived: form.archived,
  changedSince: JSON.stringify(form.draft) !== JSON.stringify(form.live),
});

/** All definitions of a database, as one moment saw them. */
export interface Definitions {
  readonly cabinets: ReadonlyMap<string, Cabinet>;
  readonly tables: Tables;
  readonly forms: ReadonlyMap<string, StoredForm>;
  /** The roles of each cabinet by id, in the order of their labels. */
  readonly roles: ReadonlyMap<string, ReadonlyMap<string, Role>>;
  /** The filters of shared views, by number: they feed dropdowns. */
  readonly views: FeedingViews;
  readonly office: Office;
  /** Whether somebody has said where the office is; until then its time zone is the server's. */
  readonly officeIsSet: boolean;
  /** Set where these are what somebody with a role sees of a cabinet. */
  readonly seen?: Seen;
}

/** Who sees definitions, under which role, and all that there is in the cabinet besides. */
export interface Seen {
  readonly role: Role;
  readonly asking: Asking;
  readonly whole: Definitions;
  /** All fields of the records that are seen: for what the server computes and does not tell. */
  readonly rows: Tables;
}

/** Definitions that were stored before a setting existed get its default. */
const readForm = (stored: DefinedForm): DefinedForm => formDefinitionSchema.parse(stored);

interface FieldRow extends FieldDefinition {
  readonly retired: boolean;
}
type FieldsOfTable = Pick<TableDefinition, 'fields' | 'retired'>;

/** One part of the definitions as it was read, and the mark by which the database tells that it has not changed. */
interface Kept<T> {
  readonly mark: string;
  readonly part: T;
}

interface ReadBefore {
  readonly fields: ReadonlyMap<string, Kept<FieldsOfTable>>;
  readonly forms: ReadonlyMap<string, Kept<StoredForm>>;
}

/** What was read over each pool of connections before: most of it is as it was when definitions are read again. */
const readBefore = new WeakMap<object, ReadBefore>();

/** A row's version of its own: the transaction that wrote it and its place, of which no two versions have the same. */
const rowVersion = (alias: string): string => `${alias}.xmin::text || ${alias}.ctid::text`;

/**
 * Reads all definitions, as one statement sees them. Only what has changed since they were read last comes out of the
 * database, so that a change of one of many tables costs what it changes.
 */
export async function loadDefinitions(database: Database | Transaction): Promise<Definitions> {
  // The same object for a pool and all of its transactions.
  const pool = database.client.config as object;
  const before: ReadBefore = readBefore.get(pool) ?? { fields: new Map(), forms: new Map() };
  const marks = (of: ReadonlyMap<string, Kept<unknown>>): string =>
    JSON.stringify(Object.fromEntries([...of].map(([id, { mark }]) => [id, mark])));
  const { rows } = await database.raw<{
    rows: {
      cabinets: Cabinet[];
      tables: Omit<TableDefinition, 'fields' | 'retired'>[];
      fields: { table: TableId; mark: string; rows: FieldRow[] | null }[];
      forms: { id: string; mark: string; form: StoredForm | null }[];
      views: (FeedingView & { id: number })[];
      office: Office | null;
      roles: { cabinet: string; role: StoredRole }[];
    }[];
  }>(
    `WITH known AS (SELECT ?::jsonb AS fields, ?::jsonb AS forms),
       marked AS MATERIALIZED (SELECT table_id, count(*) || ' ' || bit_xor(hashtextextended(${rowVersion('f')}, 0)) AS mark FROM fiche.field f WHERE NOT pending GROUP BY 1)
     SELECT
      (SELECT coalesce(json_agg(json_build_object('id', id, 'label', label, 'description', coalesce(description, ''), 'archived', archived_at IS NOT NULL, 'revision', revision)), '[]') FROM fiche.cabinet) AS cabinets,
      (SELECT coalesce(json_agg(${TABLE_JSON} ORDER BY position), '[]') FROM fiche."table") AS tables,
      (SELECT coalesce(json_agg(json_build_object('table', m.table_id, 'mark', m.mark, 'rows', CASE WHEN known.fields->>m.table_id IS DISTINCT FROM m.mark THEN
        (SELECT json_agg(${FIELD_JSON} ORDER BY position)
          FROM fiche.field WHERE table_id = m.table_id AND NOT pending) END)), '[]') FROM marked m) AS fields,
      (SELECT coalesce(json_agg(json_build_object('id', id, 'mark', mark, 'form', CASE WHEN known.forms->>id IS DISTINCT FROM mark THEN form END) ORDER BY position), '[]') FROM (
        SELECT f.id, f.position, ${rowVersion('f')} || coalesce(${rowVersion('v')}, '') AS mark,
          json_build_object('id', f.id, 'cabinet', f.cabinet, 'table', f.table_id, 'draft', f.draft,
            'draftRevision', f.draft_revision, 'liveVersion', f.live_version, 'live', v.definition, 'slug', f.slug, 'archived', f.archived_at IS NOT NULL) AS form
        FROM fiche.form f LEFT JOIN fiche.form_version v ON v.form_id = f.id AND v.number = f.live_version) forms) AS forms,
      (SELECT coalesce(json_agg(json_build_object('id', id, 'table', table_id, 'filter', definition->'filter')), '[]') FROM fiche.view WHERE shared) AS views,
      (SELECT json_build_object('timeZone', time_zone, 'locale', locale, 'currency', currency) FROM fiche.office) AS office,
      (SELECT coalesce(json_agg(json_build_object('cabinet', cabinet, 'role', ${ROLE_JSON}) ORDER BY label, id), '[]') FROM fiche.role) AS roles
     FROM known`,
    [marks(before.fields), marks(before.forms)],
  );
  const [all] = rows;
  if (!all) throw new Error('The definitions could not be read');
  const fields = new Map(
    all.fields.map(({ table, mark, rows: read }): [string, Kept<FieldsOfTable>] => [
      table,
      read ? { mark, part: inUseAndRetired(read) } : (before.fields.get(table) as Kept<FieldsOfTable>),
    ]),
  );
  const forms = new Map(
    all.forms.map(({ id, mark, form }): [string, Kept<StoredForm>] => [
      id,
      form
        ? { mark, part: { ...form, draft: readForm(form.draft), live: form.live && readForm(form.live) } }
        : (before.forms.get(id) as Kept<StoredForm>),
    ]),
  );
  readBefore.set(pool, { fields, forms });
  return {
    cabinets: new Map(all.cabinets.map((one) => [one.id, one])),
    tables: new Map(
      all.tables.map((one) => [one.id, { ...one, ...(fields.get(one.id)?.part ?? { fields: [], retired: [] }) }]),
    ),
    forms: new Map([...forms].map(([id, { part }]) => [id, part])),
    roles: rolesByCabinet(all.roles),
    views: new Map(all.views.map(({ id, ...view }) => [id, view])),
    office: all.office ?? { ...DEFAULT_OFFICE, timeZone: new Intl.DateTimeFormat().resolvedOptions().timeZone },
    officeIsSet: all.office !== null,
  };
}

function rolesByCabinet(
  rows: readonly { readonly cabinet: string; readonly role: StoredRole }[],
): Map<string, Map<string, Role>> {
  const roles = new Map<string, Map<string, Role>>();
  for (const { cabinet, role } of rows) {
    const here = roles.get(cabinet) ?? new Map<string, Role>();
    roles.set(cabinet, here.set(role.id, readRole(role)));
  }
  return roles;
}

const TABLE_JSON = `json_build_object('id', id, 'cabinet', cabinet, 'label', label, 'description', description,
  'kind', kind, 'title', title, 'card', card, 'rules', rules, 'constraints', constraints, 'ripples', coalesce(ripples, '[]'), 'revision', revision, 'archived', archived_at IS NOT NULL)`;
const FIELD_JSON = `json_build_object('id', id, 'label', label, 'type', type, 'settings', settings, 'required', required,
  'unique', "unique", 'help', help, 'initial', initial, 'calculation', calculation, 'narrowing', narrowing, 'retired', retired_at IS NOT NULL)`;

/** Reads one table as it is now; undefined where there is none. */
export async function loadTable(database: Database | Transaction, id: string): Promise<TableDefinition | undefined> {
  const { rows } = await database.raw<{
    rows: { table: Omit<TableDefinition, 'fields' | 'retired'>; fields: FieldRow[] }[];
  }>(
    `SELECT ${TABLE_JSON} AS "table", (SELECT coalesce(json_agg(${FIELD_JSON} ORDER BY position), '[]') FROM fiche.field f WHERE f.table_id = t.id AND NOT pending) AS fields
     FROM fiche."table" t WHERE id = ?`,
    [id],
  );
  const [row] = rows;
  return row && { ...row.table, ...inUseAndRetired(row.fields) };
}

function inUseAndRetired(rows: readonly FieldRow[]): FieldsOfTable {
  const plain = (out: boolean): FieldDefinition[] =>
    rows.flatMap(({ retired, ...field }) => (retired === out ? [field] : []));
  return { fields: plain(false), retired: plain(true) };
}

/** Remembers the definitions for as long as no cabinet's revision has moved. */
export class DefinitionCache {
  private known: { key: string; definitions: Promise<Definitions> } | undefined;

  constructor(private readonly database: Database) {}

  async current(revisions: Readonly<Record<string, number>>): Promise<Definitions> {
    const key = JSON.stringify(revisions);
    if (this.known?.key !== key) {
      const definitions = loadDefinitions(this.database);
      this.known = { key, definitions };
      definitions.catch(() => {
        this.known = undefined;
      });
    }
    const definitions = await this.known.definitions;
    setOffice(definitions.office);
    return definitions;
  }
}

/** Says that a cabinet's definitions changed; also makes builders of one cabinet take turns. */
export const touchCabinet = (owner: Transaction, cabinet: string): Promise<unknown> =>
  owner.raw('UPDATE fiche.cabinet SET revision = revision + 1 WHERE id = ?', [cabinet]);
