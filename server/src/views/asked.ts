import type { AskedAnswers } from '@fiche/core/conditions';
import { civilNow } from '@fiche/core/office';
import { isPast, relation } from '@fiche/core/queries';
import { type Asking, rightTo } from '@fiche/core/rights';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import { type Listing, listingProblems } from '@fiche/core/views';
import { type Call, callersLimit } from '../access/index.ts';
import { notFound, unacceptable } from '../http/index.ts';
import { listPast } from '../past/index.ts';
import type { Services } from '../services.ts';
import { type SeenView, seenView } from './seenView.ts';

/** A question about the records of a table: its address, who asks, and what they see. */
export type Asked = Pick<Call<unknown, unknown>, 'params' | 'caller' | 'definitions'>;

/** The table that an address names. Throws 404. */
export function tableOf({ params, definitions }: Asked): TableDefinition {
  const table = definitions.tables.get(params.table ?? '');
  if (!table) throw notFound('This table');
  return table;
}

export const askingOf = ({ caller, definitions: { seen } }: Asked): Asking =>
  seen?.asking ?? { account: caller.login ?? '', now: civilNow() };

/** The tables that a list reads: of today, or as they stood at a moment. Throws 422 for one that was made later. */
export const tablesAt = async (asked: Asked, { databases }: Services, asOf: string | undefined): Promise<Tables> =>
  asOf === undefined
    ? asked.definitions.tables
    : listPast({ app: databases.work.app, owner: databases.work.owner }, asked.definitions, tableOf(asked).id, asOf);

/** Checks that a listing reads what is there, and what the caller sees. Throws 422 at the place of each fault. */
export function requireReadable(asked: Asked, listing: Listing): void {
  const problems = listingProblems(listing, tableOf(asked), asked.definitions.tables);
  if (problems.length > 0) throw unacceptable(problems.map((one) => ({ ...one, path: `listing.${one.path}` })));
}

/** The view that an address names, as the caller has it, with their answers to what it asks. Throws 404. */
export async function viewOf(asked: Asked, { databases }: Services, answers: AskedAnswers = []): Promise<SeenView> {
  const { params, definitions, caller } = asked;
  const { id } = tableOf(asked);
  const view = await seenView(databases.app, definitions, id, caller.login ?? '', Number(params.view), answers);
  if (!view) throw notFound('This view');
  return view;
}

/** Who asks for records that leave the office, and which of those they may export: decided on each as it is today. */
export function exportReader(asked: Asked, tables: Tables): { readonly asking: Asking; readonly limit: string | null } {
  const table = tableOf(asked);
  const may = callersLimit(asked.definitions, table, 'r', ({ role }) => rightTo(role, 'export', table));
  const limit =
    may && isPast(tables, table.id) ? `r.id IN (SELECT r.id FROM ${relation(table.id)} r WHERE ${may})` : may;
  return { asking: askingOf(asked), limit };
}
