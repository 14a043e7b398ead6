import type { LineKind } from '../history/index.ts';
import { say } from '../languages/index.ts';
import { type FieldId, findField, isGiven, type TableDefinition } from '../tables/index.ts';
import { both, rightTo, type Verdict } from './rightTo.ts';
import { type Action, type RoleDefinition, rightsTo } from './role.ts';

/** What somebody saved of a record, as a line of its history says. */
export interface SavedAct {
  readonly kind: Exclude<LineKind, 'erase'>;
  /** The fields that they wrote. */
  readonly fields: readonly FieldId[];
  readonly byImport: boolean;
}

const actionsOf = ({ kind, byImport }: SavedAct): readonly Action[] => [
  kind === 'restore' ? 'archive' : kind,
  ...(byImport ? (['import'] as const) : []),
];

/**
 * Whether a role would let somebody save again what they have saved of a record: what it would refuse whichever record it is, in words,
 * or else the condition that the record has to meet, `yes` for none.
 */
export function wouldAllow(
  role: RoleDefinition,
  table: TableDefinition,
  act: SavedAct,
): { readonly refusals: readonly string[] } | { readonly verdict: Exclude<Verdict, 'no'> } {
  const verdict = actionsOf(act)
    .map((action) => rightTo(role, action, table))
    .reduce(both);
  if (verdict === 'no')
    return { refusals: [say('The role may not {kind} records of {label}.', { kind: act.kind, label: table.label })] };
  const limits = rightsTo(role, table.id).fields;
  const refusals = act.fields.flatMap((id) => {
    const field = findField(table, id);
    if (!field || isGiven(field) || rightTo(role, 'change', table, id) !== 'no' || limits[id] === undefined) return [];
    return [say('{label} is {id}.', { label: field.label, id: limits[id] === 'hidden' ? 'hidden' : 'read-only' })];
  });
  return refusals.length > 0 ? { refusals } : { verdict };
}
