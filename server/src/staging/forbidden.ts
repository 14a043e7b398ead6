import { say } from '@fiche/core/languages';
import { rightTo } from '@fiche/core/rights';
import type { TableDefinition } from '@fiche/core/tables';
import { callersLimit } from '../access/index.ts';
import type { Definitions } from '../definitions/index.ts';

/** SQL conditions on staged rows `s` that a role does not allow, each with what is said of such a row. */
export function forbiddenRows(
  definitions: Definitions,
  table: TableDefinition,
  place: string,
  /** What rows do that do not add: they change records, or take them out of use and back. */
  action: 'change' | 'archive' = 'change',
): { readonly where: string; readonly message: string }[] {
  const adds = callersLimit(definitions, table, 's', ({ role }) => rightTo(role, 'add', table));
  const changes = callersLimit(definitions, table, 'r', ({ role }) => rightTo(role, action, table));
  return [
    ...(adds === null
      ? []
      : [
          {
            where: `s."action#" = 'add' AND (${adds}) IS NOT TRUE`,
            message: say('Your role may not add this record to {label}: it is outside of your range.', {
              label: table.label,
            }),
          },
        ]),
    ...(changes === null
      ? []
      : [
          {
            where: `s."action#" = 'change' AND NOT EXISTS (SELECT FROM ${place} r WHERE r.id = s."record#" AND (${changes}))`,
            message: say('Your role may not {action} this record of {label}.', { action, label: table.label }),
          },
        ]),
  ];
}
