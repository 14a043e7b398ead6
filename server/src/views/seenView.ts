import { type AskedAnswers, withAnswers } from '@fiche/core/conditions';
import type { TableDefinition, TableId } from '@fiche/core/tables';
import { type Listing, listingSeenBy } from '@fiche/core/views';
import type { Database, Transaction } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { findView, type ViewReader } from './store.ts';

/** A view as somebody with these definitions has it. */
export interface SeenView {
  readonly id: number;
  readonly label: string;
  readonly table: TableDefinition;
  readonly listing: Listing;
}

/** Somebody with these definitions, as a reader of views. */
export const viewReader = ({ seen }: Definitions, login: string): ViewReader => ({
  login,
  role: seen?.role.id ?? '',
  builds: seen?.role.rights.includes('build') ?? true,
});

/**
 * A view of a table that somebody has, and whose filter reads what they see, with their answers to what it asks each time;
 * undefined for any other.
 */
export async function seenView(
  database: Database | Transaction,
  definitions: Definitions,
  tableId: TableId,
  login: string,
  id: number,
  answers: AskedAnswers = [],
): Promise<SeenView | undefined> {
  const { tables } = definitions;
  const table = tables.get(tableId);
  const view = table && (await findView(database, tableId, viewReader(definitions, login), id));
  const listing = view && listingSeenBy(view, table, tables);
  if (!table || !view || !listing) return undefined;
  return { id, label: view.label, table, listing: { ...listing, filter: withAnswers(listing.filter, answers) } };
}
