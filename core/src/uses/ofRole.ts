import { say } from '../languages/index.ts';
import { ACTIONS, type Role } from '../rights/index.ts';
import { ofField, type Reading, readingsOfCondition, type UsePlace } from './reading.ts';

/** What a role names of tables: those that it has rights of its own to, fields that it limits, and conditions. */
export function readingsOfRole(role: Role): Reading[] {
  const place: UsePlace = { kind: 'role', id: role.id, label: role.label };
  return Object.entries(role.tables).flatMap(([table, rights]): Reading[] => [
    { place, words: say('rights to it'), table },
    ...Object.entries(rights.fields).map(([field, limit]) =>
      ofField(place, limit === 'hidden' ? say('does not see it') : say('does not write it'), table, field),
    ),
    ...ACTIONS.flatMap((action) => {
      const extent = rights[action];
      return typeof extent === 'object'
        ? readingsOfCondition(place, say('which records it may {action}', { action }), extent, { column: table })
        : [];
    }),
  ]);
}
