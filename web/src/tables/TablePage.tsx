import { Link, useParams, useSearchParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { RecordGrid } from '../records/index.ts';
import { CardLayout } from './CardLayout.tsx';
import { CombinationsTab } from './CombinationsTab.tsx';
import { FieldsTab } from './FieldsTab.tsx';
import { RulesTab } from './RulesTab.tsx';

/** One table: its records, and for builders its fields and rules. */
export function TablePage() {
  const { cabinet, tables, may } = useOffice();
  const { table: id = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const table = tables.get(id);
  if (!table) return <p className="empty">This table is not there any more.</p>;
  const path = `/${cabinet.id}/tables/${id}`;
  const list = table.kind === 'list';
  const tabs = [
    ...(list ? [{ key: 'combinations', label: 'Combinations' }] : []),
    { key: 'records', label: 'Records' },
    ...(may('build') ? [{ key: 'fields', label: list ? 'Levels' : 'Fields' }] : []),
    ...(may('build') && !list ? [{ key: 'rules', label: 'Rules' }] : []),
    ...(may('build') && !list ? [{ key: 'card', label: 'Reference card' }] : []),
  ];
  const open = tabs.find((tab) => search.has(tab.key)) ?? tabs[0];
  const linking = search.get('linking') ?? undefined;
  return (
    <div className="page-body">
      <div className="page-head">
        <h1>{table.label}</h1>
        <span className="mono faded">{table.id}</span>
        {tabs.length > 1 && (
          <div className="tabs" role="tablist">
            {tabs.map((tab) => (
              <button
                key={tab.key}
                type="button"
                role="tab"
                aria-selected={tab === open}
                onClick={() => setSearch(tab === tabs[0] ? {} : { [tab.key]: '' })}
              >
                {tab.label}
              </button>
            ))}
          </div>
        )}
        <div className="end">
          {may('add') && table.fields.length > 0 && (
            <>
              <Link to={`/${cabinet.id}/imports/new?into=${id}`}>Bring a file in</Link>
              <a href={`/api/tables/${id}/export`} download>
                Take out as CSV
              </a>
              <Link className="button" to={`${path}/new`}>
                New record
              </Link>
            </>
          )}
        </div>
      </div>
      {table.description && open?.key !== 'fields' && (
        <p className="faded" style={{ marginBottom: 8 }}>
          {table.description}
        </p>
      )}
      {open?.key === 'fields' && <FieldsTab table={table} />}
      {open?.key === 'rules' && <RulesTab table={table} />}
      {open?.key === 'card' && (
        <section className="card-tab">
          <p className="faded">
            What a form shows of a record of {table.label} as soon as it is chosen: read-only, always current. Laid out
            here once, placed in any form that links here.
          </p>
          <CardLayout table={table} />
        </section>
      )}
      {open?.key === 'combinations' && <CombinationsTab table={table} />}
      {open?.key === 'records' && <RecordGrid key={`${id}${linking}`} table={table} path={path} linking={linking} />}
    </div>
  );
}
