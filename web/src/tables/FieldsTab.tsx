import type { TableDefinition } from '@fiche/core/tables';
import { AddField } from './AddField.tsx';
import { CopyFields } from './CopyFields.tsx';
import { FieldRow } from './FieldRow.tsx';
import { TitleSentence } from './TitleSentence.tsx';
import { useTableWork } from './useTableWork.tsx';

/** A table's fields, each as one sentence, and the ways to add some. */
export function FieldsTab({ table }: { table: TableDefinition }) {
  const { change, progress } = useTableWork();
  const base = `/api/tables/${table.id}`;
  return (
    <>
      {table.fields.length > 0 && <TitleSentence table={table} onChange={(body) => change('PATCH', base, body)} />}
      {progress}
      {table.fields.length > 0 && (
        <div className="list-card">
          <table className="list">
            <thead>
              <tr>
                <th scope="col">Field</th>
                <th scope="col">Column</th>
                <th scope="col">What it is</th>
                <th scope="col">
                  <span className="visually-hidden">Order</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {table.fields.map((field, at) => (
                <FieldRow key={field.id} table={table} field={field} at={at} change={change} />
              ))}
            </tbody>
          </table>
        </div>
      )}
      {table.retired.length > 0 && (
        <p className="faded retired-fields">
          Out of use, with their values and history:{' '}
          {table.retired.map((field) => (
            <span key={field.id}>
              {field.label}{' '}
              <button
                type="button"
                className="link"
                onClick={() => void change('POST', `${base}/fields/${field.id}/return`, {})}
              >
                Bring {field.label} back
              </button>{' '}
            </span>
          ))}
        </p>
      )}
      <AddField table={table} change={change} />
      <CopyFields table={table} change={change} />
    </>
  );
}
