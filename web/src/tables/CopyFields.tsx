import type { TableDefinition } from '@fiche/core/tables';
import { useState } from 'react';
import { useOffice } from '../client/index.ts';
import type { ChangeTable } from './useTableWork.tsx';

/** Takes over fields of another table: their definitions, not their data. */
export function CopyFields({ table, change }: { table: TableDefinition; change: ChangeTable }) {
  const { cabinet } = useOffice();
  const [from, setFrom] = useState('');
  const [fields, setFields] = useState<readonly string[]>([]);
  const others = cabinet.tables.filter((one) => one.id !== table.id && one.fields.length > 0);
  const source = others.find((one) => one.id === from);
  if (others.length === 0) return null;
  const copy = async (): Promise<void> => {
    if (await change('POST', `/api/tables/${table.id}/fields/copy`, { from, fields })) {
      setFrom('');
      setFields([]);
    }
  };
  return (
    <fieldset className="inline-form" aria-label="Copy fields">
      <label>
        Or copy fields of
        <select
          value={from}
          onChange={(event) => {
            setFrom(event.target.value);
            setFields([]);
          }}
        >
          <option value="">another table</option>
          {others.map((one) => (
            <option key={one.id} value={one.id}>
              {one.label}
            </option>
          ))}
        </select>
      </label>
      {source?.fields.map((field) => (
        <label key={field.id} className="check">
          <input
            type="checkbox"
            checked={fields.includes(field.id)}
            onChange={(event) =>
              setFields(event.target.checked ? [...fields, field.id] : fields.filter((id) => id !== field.id))
            }
          />{' '}
          {field.label}
        </label>
      ))}
      {source && (
        <button type="button" className="button" disabled={fields.length === 0} onClick={() => void copy()}>
          {fields.length === 1 ? 'Copy 1 field' : `Copy ${fields.length} fields`}
        </button>
      )}
    </fieldset>
  );
}
