import { Link, useParams, useSearchParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { RecordGrid } from '../records/index.ts';
import { FieldsTab } from './FieldsTab.tsx';

/** One table: its records, and for builders its fields. */
export function TablePage() {
  const { cabinet, tables, may } = useOffice();
  const { table: id = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const table = tables.get(id);
  if (!table) return <p className="empty">This table is not there any more.</p>;
  const onFields = search.has('fields') && may('build');
  const path = `/${cabinet.id}/tables/${id}`;
  return (
    <div className="page-body">
      <div className="page-head">
        <h1>{table.label}</h1>
        <span className="mono faded">{table.id}</span>
        {may('build') && (
          <div className="tabs" role="tablist">
            <button type="button" role="tab" aria-selected={!onFields} onClick={() => setSearch({})}>
              Records
            </button>
            <button type="button" role="tab" aria-selected={onFields} onClick={() => setSearch({ fields: '' })}>
              Fields
            </button>
          </div>
        )}
        <div className="end">
          {may('add') && table.fields.length > 0 && (
            <Link className="button" to={`${path}/new`}>
              New record
            </Link>
          )}
        </div>
      </div>
      {table.description && (
        <p className="faded" style={{ marginBottom: 8 }}>
          {table.description}
        </p>
      )}
      {onFields ? <FieldsTab table={table} /> : <RecordGrid key={id} table={table} path={path} />}
    </div>
  );
}
