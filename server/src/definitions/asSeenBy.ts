import { civilNow } from '@fiche/core/office';
import { SeenTables } from '@fiche/core/queries';
import { NO_ROLE, type Role, seesEverything, tablesSeenBy } from '@fiche/core/rights';
import type { Definitions } from './definitions.ts';
import { withinCabinet } from './withinCabinet.ts';

/** What was made of the definitions of a cabinet, by role, account and day. */
const known = new WeakMap<Definitions, Map<string, Definitions>>();
/** So many are remembered: more accounts than work on one day. */
const MOST_KNOWN = 2_000;

/**
 * What somebody with a role sees of a cabinet: its tables without what is hidden, with the limits on their records, and
 * the forms that the role gets. Whatever a handler reads by these stays within the role's rights.
 */
export function asSeenBy(all: Definitions, cabinet: string, roleId: string, account: string): Definitions {
  const whole = withinCabinet(all, cabinet);
  // A role that was deleted allows nothing.
  const role = all.roles.get(cabinet)?.get(roleId) ?? NO_ROLE;
  const asking = { account, now: civilNow() };
  const made = known.get(whole) ?? new Map<string, Definitions>();
  known.set(whole, made);
  const key = JSON.stringify([roleId, account, asking.now.slice(0, 10)]);
  const before = made.get(key);
  if (before) return before;
  if (made.size >= MOST_KNOWN) made.clear();
  const seen = within(whole, role, asking);
  made.set(key, seen);
  return seen;
}

function within(whole: Definitions, role: Role, asking: { account: string; now: string }): Definitions {
  const tables = seesEverything(role, whole.tables) ? whole.tables : tablesSeenBy(role, whole.tables, asking);
  const forms = [...whole.forms].filter(([id, form]) => tables.has(form.table) && !role.closedForms.includes(id));
  const rows = tables instanceof SeenTables ? tables.withDefinitions(whole.tables) : tables;
  return {
    ...whole,
    tables,
    forms: forms.length === whole.forms.size ? whole.forms : new Map(forms),
    seen: { role, asking, whole, rows },
  };
}
