import { readItems } from '@fiche/core/fields';
import { formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router-dom';
import { send, sendFile, useOffice, useRefreshCabinet } from '../client/index.ts';
import { InlineForm, useSay } from '../parts/index.ts';

/** The tables of a cabinet. */
export function TablesPage() {
  const { cabinet, may } = useOffice();
  return (
    <div className="page-body">
      <div className="page-head">
        <h1>Tables</h1>
        <div className="end">
          {may('add') && <Link to={`/${cabinet.id}/imports/new`}>Bring a file in</Link>}
          {may('build') && (
            <a href={`/api/cabinets/${cabinet.id}/export`} download>
              Take the cabinet out
            </a>
          )}
        </div>
      </div>
      {cabinet.tables.length === 0 ? (
        <p className="empty list-card">
          <strong>There are no tables yet.</strong>{' '}
          {may('build') ? (
            <>
              Name the first one below, such as “Berths”, then give it fields. Or bring in a spreadsheet, or another
              cabinet’s file: <FillCabinet />
            </>
          ) : (
            'As soon as a builder makes one, it stands here.'
          )}
        </p>
      ) : (
        <div className="list-card">
          <table className="list">
            <thead>
              <tr>
                <th scope="col">Table</th>
                <th scope="col">Name</th>
                <th scope="col">About</th>
                <th scope="col" className="numeric">
                  Fields
                </th>
              </tr>
            </thead>
            <tbody>
              {cabinet.tables.map((table) => (
                <tr key={table.id}>
                  <td>
                    <Link to={table.id}>
                      <strong>{table.label}</strong>
                    </Link>
                  </td>
                  <td className="mono faded">{table.id}</td>
                  <td className="faded">{table.description}</td>
                  <td className="numeric">{table.fields.length}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {may('build') && <MakeTable />}
    </div>
  );
}

/** An empty cabinet can begin with another one's file: its tables, forms and records. */
function FillCabinet() {
  const { cabinet } = useOffice();
  const refresh = useRefreshCabinet();
  const say = useSay();
  const [share, setShare] = useState<number>();
  const fill = async (file: File): Promise<void> => {
    setShare(0);
    try {
      const filled = await sendFile<{ tables: number; forms: number; records: number; notes: string[] }>(
        `/api/cabinets/${cabinet.id}/cabinet-file?file=${encodeURIComponent(file.name)}`,
        file,
        setShare,
        new AbortController().signal,
      );
      await refresh();
      say(
        [
          `${filled.tables} tables, ${filled.forms} forms and ${formatCount(filled.records)} records are here.`,
          ...filled.notes,
        ].join(' '),
      );
    } catch (error) {
      say((error as Error).message);
    } finally {
      setShare(undefined);
    }
  };
  return (
    <label className="button">
      {share === undefined ? 'Fill it from a cabinet file' : 'Filling the cabinet…'}
      <input
        type="file"
        className="visually-hidden"
        accept=".zip"
        disabled={share !== undefined}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) void fill(file);
        }}
      />
    </label>
  );
}

function MakeTable() {
  const { cabinet } = useOffice();
  const refresh = useRefreshCabinet();
  const navigate = useNavigate();
  const [label, setLabel] = useState('');
  const [list, setList] = useState(false);
  const [levels, setLevels] = useState('');
  const [trouble, setTrouble] = useState('');
  const make = async (): Promise<void> => {
    try {
      const table = list
        ? await send<TableDefinition>('POST', `/api/cabinets/${cabinet.id}/lists`, { label, levels: readItems(levels) })
        : await send<TableDefinition>('POST', `/api/cabinets/${cabinet.id}/tables`, { label });
      await refresh();
      navigate(`/${cabinet.id}/tables/${table.id}${list ? '' : '?fields'}`);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return (
    <InlineForm
      label="Make a table"
      submit={list ? 'Make the list' : 'Make the table'}
      trouble={trouble}
      onSubmit={make}
    >
      <label>
        {list ? 'A new option list, called' : 'A new table, called'}
        <input
          value={label}
          onChange={(event) => setLabel(event.target.value)}
          aria-invalid={trouble !== '' || undefined}
        />
      </label>
      {list && (
        <label>
          with the levels, from the top, with commas between
          <input
            placeholder="System, Part, Defect"
            value={levels}
            onChange={(event) => setLevels(event.target.value)}
          />
        </label>
      )}
      <label className="check">
        <input type="checkbox" checked={list} onChange={(event) => setList(event.target.checked)} /> an option list
      </label>
    </InlineForm>
  );
}
