import type { ViewView } from '@fiche/core/api';
import type { TableDefinition } from '@fiche/core/tables';
import { listingProblems, listingSeenBy } from '@fiche/core/views';
import type { Asked } from './asked.ts';
import { viewReader } from './seenView.ts';
import type { StoredView, ViewReader } from './store.ts';

type Asking = Pick<Asked, 'definitions' | 'caller'>;

export const readerOf = ({ definitions, caller }: Asking): ViewReader => viewReader(definitions, caller.login ?? '');

/** A shared view is changed by who builds, one's own by oneself. */
export const mayChange = (asking: Asking, view: Pick<StoredView, 'shared' | 'owner'>): boolean =>
  view.shared ? readerOf(asking).builds : view.owner === asking.caller.login;

/**
 * A view as its reader has it; undefined where it reads what they do not see. Whoever sees everything, or made it for themselves,
 * gets one that reads what is gone as well, to mend it.
 */
export function viewFor(
  asking: Asking,
  of: TableDefinition,
  { table: _table, ...view }: StoredView,
): ViewView | undefined {
  const { tables, seen } = asking.definitions;
  const shown = { ...view, mayChange: mayChange(asking, view), problem: null };
  const listing = listingSeenBy(view, of, tables);
  if (listing) return { ...shown, ...listing };
  const mends = tables === seen?.whole.tables || (!view.shared && view.owner === asking.caller.login);
  const [problem] = listingProblems(view, of, tables);
  return mends && problem ? { ...shown, problem: problem.message } : undefined;
}
