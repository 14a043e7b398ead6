import type { LabelLayoutView } from '@fiche/core/api';
import { type LabelLayout, labelLayoutSchema } from '@fiche/core/labels';
import type { TableId } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';

interface Row {
  readonly id: number;
  readonly label: string;
  readonly definition: unknown;
  readonly revision: number;
}

const viewOf = ({ id, label, definition, revision }: Row): LabelLayoutView => ({
  id: Number(id),
  label,
  revision,
  layout: labelLayoutSchema.parse(definition),
});

/** The label layouts of a table, by name. */
export async function layoutsOf(database: Database | Transaction, table: TableId): Promise<LabelLayoutView[]> {
  const rows: Row[] = await database('fiche.label_layout').where({ table_id: table }).orderBy(['label', 'id']);
  return rows.map(viewOf);
}

/** One label layout of a table, locked; undefined where it is not there. */
export async function findLayout(owner: Transaction, table: TableId, id: number): Promise<LabelLayoutView | undefined> {
  const row: Row | undefined = await owner('fiche.label_layout').where({ table_id: table, id }).forUpdate().first();
  return row && viewOf(row);
}

export async function addLayout(
  owner: Transaction,
  table: TableId,
  { label, layout }: { readonly label: string; readonly layout: LabelLayout },
): Promise<LabelLayoutView> {
  const [row] = await owner('fiche.label_layout')
    .insert({ table_id: table, label, definition: JSON.stringify(layout) })
    .returning('*');
  return viewOf(row as Row);
}

export async function writeLayout(
  owner: Transaction,
  id: number,
  { label, layout }: { readonly label: string; readonly layout: LabelLayout },
): Promise<LabelLayoutView> {
  const [row] = await owner('fiche.label_layout')
    .where({ id })
    .update({ label, definition: JSON.stringify(layout), revision: owner.raw('revision + 1') })
    .returning('*');
  return viewOf(row as Row);
}

export async function deleteLayout(owner: Transaction, id: number): Promise<void> {
  await owner('fiche.label_layout').where({ id }).delete();
}
