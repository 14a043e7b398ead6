import type { ListedForm } from '@fiche/core/api';
import { type DefinedForm, linesInto, OPENING_WORDS, OPENINGS } from '@fiche/core/forms';
import { formatCount } from '@fiche/core/office';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router-dom';
import { send, useOffice, useRefreshCabinet } from '../client/index.ts';
import { InlineForm } from '../parts/index.ts';

/** The forms of a cabinet: fill them, or build them in the Studio. */
export function FormsPage() {
  const { cabinet, tables, may } = useOffice();
  const builds = may('build');
  const shown = cabinet.forms.filter((form) => builds || form.liveVersion !== null);
  return (
    <div className="page-body">
      <div className="page-head">
        <h1>Forms</h1>
      </div>
      {shown.length === 0 ? (
        <p className="empty list-card">
          <strong>There are no forms yet.</strong>{' '}
          {builds ? (
            cabinet.tables.length === 0 ? (
              <>
                A form stands over a table. <Link to={`/${cabinet.id}/tables`}>Make a table</Link> first.
              </>
            ) : (
              'Make one from a table below: it is ready in one step, then tuned in the Studio.'
            )
          ) : (
            'As soon as a builder publishes one, it stands here.'
          )}
        </p>
      ) : (
        <div className="list-card">
          <table className="list">
            <thead>
              <tr>
                <th scope="col">Form</th>
                <th scope="col">Writes to</th>
                <th scope="col">State</th>
                <th scope="col">Public page</th>
                <th scope="col">
                  <span className="visually-hidden">Build</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {shown.map((form) => (
                <tr key={form.id}>
                  <td>
                    {form.liveVersion === null ? (
                      form.label
                    ) : (
                      <Link to={form.id}>
                        <strong>{form.label}</strong>
                      </Link>
                    )}
                  </td>
                  <td>{tables.get(form.table)?.label}</td>
                  <td className="faded">{stateOf(form, builds)}</td>
                  <td>
                    {form.slug && (
                      <a href={`/p/${form.slug}`} target="_blank" rel="noreferrer">
                        /p/{form.slug}
                      </a>
                    )}
                    {form.slug && may('change') && (
                      <>
                        {' · '}
                        <Link to={`${form.id}/held`}>
                          {form.held
                            ? `${formatCount(form.held)} held ${form.held === 1 ? 'answer' : 'answers'}`
                            : 'Held answers'}
                        </Link>
                      </>
                    )}
                  </td>
                  <td>
                    {builds && (
                      <Link to={`${form.id}/studio`} aria-label={`Open ${form.label} in the Studio`}>
                        Studio
                      </Link>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {builds && cabinet.tables.length > 0 && <MakeForm />}
    </div>
  );
}

function stateOf(form: ListedForm, builds: boolean): string {
  if (form.liveVersion === null) return 'draft, not published';
  return `version ${form.liveVersion}${builds && form.changedSince ? ', draft changed since' : ''}`;
}

/** What may be done through a form that is made. */
const MAY = {
  all: { add: true, change: true, archive: true },
  add: { add: true, change: false, archive: false },
  change: { add: false, change: true, archive: false },
  look: { add: false, change: false, archive: false },
} as const;

function MakeForm() {
  const { cabinet } = useOffice();
  const refresh = useRefreshCabinet();
  const navigate = useNavigate();
  const [table, setTable] = useState(cabinet.tables[0]?.id ?? '');
  const [label, setLabel] = useState('');
  const [opensOn, setOpensOn] = useState<DefinedForm['opensOn']>('blank');
  const [fields, setFields] = useState<'all' | 'none'>('all');
  const [may, setMay] = useState<keyof typeof MAY>('all');
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [trouble, setTrouble] = useState('');
  const tables = new Map(cabinet.tables.map((one) => [one.id, one]));
  const lines = linesInto(tables, table).map((one) => ({ ...one, key: `${one.table.id}.${one.link}` }));
  const proposed = cabinet.tables.find((one) => one.id === table)?.label ?? '';
  const make = async (): Promise<void> => {
    try {
      const form = await send<ListedForm>('POST', `/api/cabinets/${cabinet.id}/forms`, {
        table,
        label: label.trim() || proposed,
        opensOn,
        fields,
        may: MAY[may],
        subforms: fields === 'none' ? [] : lines.map((one) => one.key).filter((key) => !left.has(key)),
      });
      await refresh();
      navigate(`/${cabinet.id}/forms/${form.id}/studio`);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return (
    <InlineForm label="Make a form" submit="Make the form" trouble={trouble} onSubmit={make}>
      <label>
        From the table
        <select value={table} onChange={(event) => setTable(event.target.value)}>
          {cabinet.tables.map((one) => (
            <option key={one.id} value={one.id}>
              {one.label}
            </option>
          ))}
        </select>
      </label>
      <label>
        called
        <input value={label} placeholder={proposed} onChange={(event) => setLabel(event.target.value)} />
      </label>
      <label>
        with
        <select value={fields} onChange={(event) => setFields(event.target.value as 'all' | 'none')}>
          <option value="all">all its fields</option>
          <option value="none">no fields yet</option>
        </select>
      </label>
      {fields === 'all' &&
        lines.map((one) => (
          <label key={one.key} className="check">
            <input
              type="checkbox"
              checked={!left.has(one.key)}
              onChange={() => {
                const next = new Set(left);
                if (!next.delete(one.key)) next.add(one.key);
                setLeft(next);
              }}
            />
            {one.table.label} as lines
          </label>
        ))}
      <label>
        to
        <select value={may} onChange={(event) => setMay(event.target.value as keyof typeof MAY)}>
          <option value="all">add, change and archive</option>
          <option value="add">add only</option>
          <option value="change">change only</option>
          <option value="look">look only</option>
        </select>
      </label>
      <label>
        opening on
        <select value={opensOn} onChange={(event) => setOpensOn(event.target.value as DefinedForm['opensOn'])}>
          {OPENINGS.map((one) => (
            <option key={one} value={one}>
              {OPENING_WORDS[one]}
            </option>
          ))}
        </select>
      </label>
    </InlineForm>
  );
}
