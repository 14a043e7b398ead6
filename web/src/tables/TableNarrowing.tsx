import { EVERYTHING, type Group } from '@fiche/core/conditions';
import { type FieldDefinition, type TableDefinition, targetTable } from '@fiche/core/tables';
import { useOffice } from '../client/index.ts';
import { ConditionSentences, narrowingSides } from '../sentences/index.ts';

interface TableNarrowingProps {
  readonly table: TableDefinition;
  readonly field: FieldDefinition;
  onChange(narrowing: Group | null): void;
}

/** What a link is narrowed by wherever it is written: “Offer Berths whose Pontoon is this record’s Pontoon”. */
export function TableNarrowing({ table, field, onChange }: TableNarrowingProps) {
  const { tables } = useOffice();
  const choices = tables.get(targetTable(field) ?? '');
  if (!choices) return null;
  const others = table.fields.filter((one) => one.id !== field.id);
  return (
    <ConditionSentences
      sides={narrowingSides(tables, choices.id, others, undefined, 'record')}
      where={field.narrowing ?? EVERYTHING}
      lead={[`On every form, in every list and import, offer ${choices.label} whose `]}
      addLabel={`Narrow ${field.label} by another field, everywhere`}
      onChange={(where) => onChange(where.of.length === 0 ? null : where)}
    />
  );
}
