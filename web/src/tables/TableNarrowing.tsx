import { EVERYTHING, type Group } from '@fiche/core/conditions';
import { say } from '@fiche/core/languages';
import { type FieldDefinition, type TableDefinition, targetTable } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useOffice } from '../client/index.ts';
import { ConditionSentences, narrowingSides } from '../sentences/index.ts';

interface TableNarrowingProps {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  onChange(narrowing: Group | null): void;
}

/**
 * What a link is narrowed by wherever it is written: “Offer Berths whose Pontoon is this record’s Pontoon”. It guards
 * every path, so it is set once it is written to the end, not at each word.
 */
export function TableNarrowing({ table, field, onChange }: TableNarrowingProps) {
  const { tables } = useOffice();
  const [draft, setDraft] = useState<Group>();
  const choices = tables.get(targetTable(field) ?? '');
  if (!choices) return null;
  const others = table.fields.filter((one) => one.id !== field.id);
  const set = field.narrowing ?? EVERYTHING;
  const where = draft ?? set;
  const changed = JSON.stringify(where) !== JSON.stringify(set);
  return (
    <>
      <ConditionSentences
        sides={narrowingSides(tables, choices.id, others, undefined, 'record')}
        where={where}
        lead={[`${say('Offer {label} whose', { label: choices.label })} `]}
        none={changed ? [say('Offer every record of {label}.', { label: choices.label })] : undefined}
        addLabel={say('Narrow {label} by another field', { label: field.label })}
        onChange={setDraft}
      />
      {changed && (
        <div>
          <Button onClick={() => onChange(where.of.length === 0 ? null : where)}>
            {where.of.length === 0 ? say('Stop narrowing') : say('Apply to {label}', { label: table.label })}
          </Button>{' '}
          <Button variant="text" onClick={() => setDraft(undefined)}>
            {say('Cancel')}
          </Button>
        </div>
      )}
    </>
  );
}
