import { say } from '@fiche/core/languages';
import { type FieldLimit, hiddenFrom, LIMIT_WORDS, type RoleDefinition } from '@fiche/core/rights';
import type { TableDefinition } from '@fiche/core/tables';
import { useMemo } from 'react';
import { useOffice } from '../client/index.ts';
import { SelectField, textCss } from '../parts/index.ts';
import { rightsShown, withLimit } from './roleDraft.ts';
import rolePageCss from './rolePage.module.css';

interface RoleFieldsProps {
  readonly role: RoleDefinition;
  readonly table: TableDefinition;
  onChange(role: RoleDefinition): void;
}

/** The fields of a table for a role: as they are, read-only, or hidden. */
export function RoleFields({ role, table, onChange }: RoleFieldsProps) {
  const { tables } = useOffice();
  const { fields } = rightsShown(role, table.id);
  const hidden = useMemo(() => hiddenFrom(role, tables).get(table.id), [role, tables, table.id]);
  return (
    <ul className={rolePageCss.fields} aria-label={say('Fields of {label}', { label: table.label })}>
      {table.fields.map((field) => (
        <li key={field.id}>
          <SelectField
            label={field.label}
            value={fields[field.id] ?? ''}
            options={[
              { value: '', label: say('as it is') },
              ...Object.entries(LIMIT_WORDS).map(([value, label]) => ({ value, label: say(label) })),
            ]}
            onChange={(limit) => onChange(withLimit(role, table.id, field.id, limit as FieldLimit | ''))}
          />
          {hidden?.has(field.id) && fields[field.id] !== 'hidden' && (
            <span className={textCss.faded}>{say('hidden: calculated from a hidden field')}</span>
          )}
        </li>
      ))}
    </ul>
  );
}
