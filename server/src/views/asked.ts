import type { AskedAnswers } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { isPast, relation } from '@fiche/core/queries';
import { type Asking, rightTo } from '@fiche/core/rights';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import { type Listing, listingProblems, listingSeenBy } from '@fiche/core/views';
import { type Call, callersLimit } from '../access/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import { listPast } from '../past/index.ts';
import type { Services } from '../services.ts';
import { type SeenView, seenView } from './seenView.ts';

/** A question about the records of a table: its address, who asks, and what they see. */
export type Asked = Pick<Call<unknown, unknown>, 'params' | 'caller' | 'definitions'>;

/** The table that an address names. Throws 404. */
export function tableOf({ params, definitions }: Asked): TableDefinition {
  const table = definitions.tables.get(params.table ?? '');
  if (!table) throw notFound(say('This table'));
  return table;
}

export const askingOf = ({ caller, definitions: { seen } }: Asked): Asking =>
  seen?.asking ?? { account: caller.login ?? '', now: civilNow() };

/** A table whose records are read, and all tables as they are read with it. */
export interface Read {
  readonly table: TableDefinition;
  readonly tables: Tables;
}

/** What is read of today or of a moment. */
export interface ReadThen extends Read {
  /** Whether the records can be counted, sorted and filtered: those of a past moment can only be paged until they are added up. */
  readonly ready: boolean;
}

/** What a list reads: of today, or as it stood and was defined at a moment. Throws 422 for a table that was made later. */
export async function readAt(
  asked: Asked,
  { databases }: Services,
  asOf: string | undefined,
  how: { readonly early?: boolean } = {},
): Promise<ReadThen> {
  const table = tableOf(asked);
  const { definitions } = asked;
  if (asOf === undefined) return { table, tables: definitions.tables, ready: true };
  const { app, owner } = databases.work;
  const { tables, ready } = await listPast({ app, owner }, definitions, table.id, asOf, how);
  return { table: tables.get(table.id) ?? table, tables, ready };
}

/** Checks that a listing reads what is there, and what the caller sees. Throws 422 at the place of each fault. */
export function requireReadable(listing: Listing, { table, tables }: Read): void {
  const problems = listingProblems(listing, table, tables);
  if (problems.length > 0) throw unacceptable(problems.map((one) => ({ ...one, path: `listing.${one.path}` })));
}

/** What a view of today shows of what is read: of a moment before a column was there, without it. Throws 422 where its filter reads one. */
export function shownOf(listing: Listing, { table, tables }: Read): Listing {
  const shown = listingSeenBy(listing, table, tables);
  if (shown) return shown;
  throw new Refusal(
    422,
    say(
      'This view reads a field that was not there then, or was of another type. Choose All records, or another moment.',
    ),
  );
}

/** What is read of a listing, and the listing as it can be read. */
type ReadListing = ReadThen & { readonly listing: Listing };

/** What a listing that the caller asks for reads, of today or of a moment. Throws 422 at the place of each fault. */
export async function listingAt(
  asked: Asked,
  services: Services,
  {
    listing,
    asOf,
    ...how
  }: { readonly listing: Listing; readonly asOf?: string | undefined; readonly early?: boolean },
): Promise<ReadListing> {
  const read = await readAt(asked, services, asOf, how);
  requireReadable(listing, read);
  return { ...read, listing };
}

/** What the view that an address names reads, of today or of a moment. Throws 404 and 422. */
export async function viewAt(
  asked: Asked,
  services: Services,
  { asked: answers, asOf }: { readonly asked?: AskedAnswers; readonly asOf?: string | undefined },
): Promise<ReadListing> {
  const { listing } = await viewOf(asked, services, answers);
  const read = await readAt(asked, services, asOf);
  return { ...read, listing: shownOf(listing, read) };
}

/** The view that an address names, as the caller has it, with their answers to what it asks. Throws 404. */
export async function viewOf(asked: Asked, { databases }: Services, answers: AskedAnswers = []): Promise<SeenView> {
  const { params, definitions, caller } = asked;
  const { id } = tableOf(asked);
  const view = await seenView(databases.app, definitions, id, caller.login ?? '', Number(params.view), answers);
  if (!view) throw notFound(say('This view'));
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
