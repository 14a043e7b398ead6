import { pathsOf } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import { type FieldDefinition, fieldAtPath, type TableDefinition, type Tables, targetTable } from '@fiche/core/tables';

/** What a link is narrowed by in its table, in a few words: `narrowed by Pontoon, In use`. */
export function narrowedByWords(tables: Tables, table: TableDefinition, field: FieldDefinition): string {
  if (!field.narrowing) return '';
  const target = targetTable(field) ?? '';
  const labels = [
    ...pathsOf(field.narrowing, 'form').map((path) => fieldAtPath(tables, table.id, path)?.label ?? path),
    ...pathsOf(field.narrowing, 'column').map((path) => fieldAtPath(tables, target, path)?.label ?? path),
  ];
  return say('narrowed by {list}', { list: [...new Set(labels)].join(', ') });
}
