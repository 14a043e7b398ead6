import type { ListedForm } from '@fiche/core/api';
import { type DefinedForm, formDefinitionSchema } from '@fiche/core/forms';
import type { FieldDefinition, TableDefinition, Tables } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';

export interface Cabinet {
  readonly id: string;
  readonly label: string;
  readonly revision: number;
}

export interface StoredForm {
  readonly id: string;
  readonly cabinet: string;
  readonly table: string;
  readonly draft: DefinedForm;
  readonly draftRevision: number;
  readonly liveVersion: number | null;
  readonly live: DefinedForm | null;
  readonly slug: string | null;
}

/** A form as lists show it. */
export const summarise = (form: StoredForm): ListedForm => ({
  id: form.id,
  label: form.draft.label,
  table: form.table,
  liveVersion: form.liveVersion,
  slug: form.slug,
  changedSince: JSON.stringify(form.draft) !== JSON.stringify(form.live),
});

/** All definitions of a database, as one moment saw them. */
export interface Definitions {
  readonly cabinets: ReadonlyMap<string, Cabinet>;
  readonly tables: Tables;
  readonly forms: ReadonlyMap<string, StoredForm>;
}

/** Definitions that were stored before a setting existed get its default. */
const readForm = (stored: DefinedForm): DefinedForm => formDefinitionSchema.parse(stored);

/** Reads all definitions. */
export async function loadDefinitions(database: Database | Transaction): Promise<Definitions> {
  const { rows } = await database.raw<{
    rows: {
      cabinets: Cabinet[];
      tables: TableDefinition[];
      fields: (FieldDefinition & { table: string; retired: boolean })[];
      forms: StoredForm[];
    }[];
  }>(`
    SELECT
      (SELECT coalesce(json_agg(json_build_object('id', id, 'label', label, 'revision', revision)), '[]') FROM fiche.cabinet) AS cabinets,
      (SELECT coalesce(json_agg(json_build_object('id', id, 'cabinet', cabinet, 'label', label, 'description', description,
        'kind', kind, 'title', title, 'card', card, 'rules', rules, 'constraints', constraints, 'revision', revision) ORDER BY position), '[]') FROM fiche."table") AS tables,
      (SELECT coalesce(json_agg(json_build_object('table', table_id, 'id', id, 'label', label, 'type', type, 'settings', settings,
        'required', required, 'unique', "unique", 'help', help, 'initial', initial, 'calculation', calculation, 'retired', retired_at IS NOT NULL) ORDER BY position), '[]') FROM fiche.field WHERE NOT pending) AS fields,
      (SELECT coalesce(json_agg(json_build_object('id', f.id, 'cabinet', f.cabinet, 'table', f.table_id, 'draft', f.draft,
        'draftRevision', f.draft_revision, 'liveVersion', f.live_version, 'live', v.definition, 'slug', f.slug) ORDER BY f.position), '[]')
        FROM fiche.form f LEFT JOIN fiche.form_version v ON v.form_id = f.id AND v.number = f.live_version) AS forms`);
  const [all] = rows;
  if (!all) throw new Error('The definitions could not be read');
  const fieldsOf = (table: string, out: boolean): FieldDefinition[] =>
    all.fields.flatMap(({ table: of, retired, ...field }) => (of === table && retired === out ? [field] : []));
  return {
    cabinets: new Map(all.cabinets.map((one) => [one.id, one])),
    tables: new Map(
      all.tables.map((one) => [one.id, { ...one, fields: fieldsOf(one.id, false), retired: fieldsOf(one.id, true) }]),
    ),
    forms: new Map(
      all.forms.map((one) => [one.id, { ...one, draft: readForm(one.draft), live: one.live && readForm(one.live) }]),
    ),
  };
}

/** Remembers the definitions for as long as no cabinet's revision has moved. */
export class DefinitionCache {
  private known: { key: string; definitions: Promise<Definitions> } | undefined;

  constructor(private readonly database: Database) {}

  current(revisions: Readonly<Record<string, number>>): Promise<Definitions> {
    const key = JSON.stringify(revisions);
    if (this.known?.key !== key) {
      const definitions = loadDefinitions(this.database);
      this.known = { key, definitions };
      definitions.catch(() => {
        this.known = undefined;
      });
    }
    return this.known.definitions;
  }
}

/** Says that a cabinet's definitions changed; also makes builders of one cabinet take turns. */
export const touchCabinet = (owner: Transaction, cabinet: string): Promise<unknown> =>
  owner.raw('UPDATE fiche.cabinet SET revision = revision + 1 WHERE id = ?', [cabinet]);
