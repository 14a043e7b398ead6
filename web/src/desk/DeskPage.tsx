import { Link } from 'react-router-dom';
import { useOffice } from '../client/index.ts';

/** The page a person starts on: what there is to fill, and where to look things up. */
export function DeskPage() {
  const { cabinet, session, tables, may } = useOffice();
  const live = cabinet.forms.filter((form) => form.liveVersion !== null);
  return (
    <div className="page-body">
      <div className="page-head">
        <h1>{cabinet.label}</h1>
        <span className="faded">{session.displayName}</span>
      </div>
      {live.length === 0 && (
        <p className="empty list-card">
          <strong>This cabinet is empty.</strong>{' '}
          {may('build') ? (
            <>
              Begin with a <Link to={`/${cabinet.id}/tables`}>table</Link>: give it fields, then make a form from it in
              one step.
            </>
          ) : (
            'As soon as a builder publishes a form, it stands here.'
          )}
        </p>
      )}
      <div className="desk">
        {live.map((form) => (
          <Link
            key={form.id}
            className="desk-card card"
            to={may('add') ? `/${cabinet.id}/forms/${form.id}/new` : `/${cabinet.id}/tables/${form.table}`}
          >
            <span className="desk-title">{form.label}</span>
            <span className="faded">
              {may('add')
                ? `a new record of ${tables.get(form.table)?.label}`
                : `records of ${tables.get(form.table)?.label}`}
            </span>
          </Link>
        ))}
      </div>
      {cabinet.tables.length > 0 && (
        <>
          <h2 className="desk-heading">Look up</h2>
          <p className="desk-tables">
            {cabinet.tables.map((table) => (
              <Link key={table.id} to={`/${cabinet.id}/tables/${table.id}`}>
                {table.label}
              </Link>
            ))}
          </p>
        </>
      )}
    </div>
  );
}
